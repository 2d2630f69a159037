import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useSetup } from '../../../ui/data/hooks';
import { useRememberedSetup } from '../../../ui/data/last-setup';
import { TrickLibrary } from '../../../ui/plan/trick-library';

export default function TrickLibraryScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const setup = useSetup(id);
  useRememberedSetup(setup.data);
  if (!setup.data) {
    return (
      <Screen where="Plan" title="Setup">
        {setup.error ? <Failed error={setup.error} onAgain={setup.refetch} /> : <Loading what="the setup" />}
      </Screen>
    );
  }
  return <TrickLibrary setup={setup.data} />;
}
