import { useLocalSearchParams } from 'expo-router';
import { useEffect } from 'react';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { ServerSays } from '../../../ui/data/client';
import { useSetup } from '../../../ui/data/hooks';
import { rememberSetup } from '../../../ui/data/last-setup';
import { SetupBoardView } from '../../../ui/setup/setup-board';

export default function SetupScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const setup = useSetup(id);
  const number = setup.data?.number;
  const gone = setup.error instanceof ServerSays && setup.error.status === 404;
  useEffect(() => {
    if (number !== undefined) rememberSetup({ id, number });
    else if (gone) rememberSetup(null);
  }, [id, number, gone]);
  if (!setup.data) {
    return (
      <Screen where="Roll" title="Setup">
        {setup.error ? <Failed error={setup.error} onAgain={setup.refetch} /> : <Loading what="the setup" />}
      </Screen>
    );
  }
  return <SetupBoardView setup={setup.data} />;
}
