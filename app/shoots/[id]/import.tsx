import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useShoot } from '../../../ui/data/hooks';
import { ImportPanel } from '../../../ui/plan/import-panel';

export default function ImportScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const shoot = useShoot(id);
  if (!shoot.data) {
    return (
      <Screen where="Plan" title="Shot list">
        {shoot.error ? <Failed error={shoot.error} onAgain={shoot.refetch} /> : <Loading what="the shoot" />}
      </Screen>
    );
  }
  return <ImportPanel shoot={shoot.data} />;
}
