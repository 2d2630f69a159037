import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../ui/components/screen';
import { Failed, Loading } from '../../ui/components/states';
import { usePlanned } from '../../ui/data/plan-hooks';
import { TrickEditor } from '../../ui/plan/trick-editor';

export default function PlannedScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const planned = usePlanned(id);
  if (!planned.data) {
    return (
      <Screen where="Plan" title="Trick">
        {planned.error ? <Failed error={planned.error} onAgain={planned.refetch} /> : <Loading what="the trick" />}
      </Screen>
    );
  }
  // Made anew when the saved trick changes, so that what is shown is what is saved.
  return <TrickEditor key={id} planned={planned.data} />;
}
