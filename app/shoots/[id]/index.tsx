import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useShoot } from '../../../ui/data/hooks';
import { ShootPlan } from '../../../ui/plan/shoot-plan';

export default function ShootScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const shoot = useShoot(id);
  if (!shoot.data) {
    return (
      <Screen where="Plan" title="Shoot">
        {shoot.error ? <Failed error={shoot.error} onAgain={shoot.refetch} /> : <Loading what="the shoot" />}
      </Screen>
    );
  }
  return <ShootPlan shoot={shoot.data} />;
}
