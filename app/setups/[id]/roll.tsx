import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Empty, Failed, Loading } from '../../../ui/components/states';
import { useSetup } from '../../../ui/data/hooks';
import { RollPanel } from '../../../ui/setup/roll-panel';

export default function RollScreen() {
  const { id, part } = useLocalSearchParams<{ id: string; part?: string }>();
  const setup = useSetup(id);
  if (!setup.data) {
    return (
      <Screen where="Roll" title="Roll">
        {setup.error ? <Failed error={setup.error} onAgain={setup.refetch} /> : <Loading what="the setup" />}
      </Screen>
    );
  }
  const chosen = setup.data.parts.find((p) => p.id === part) ?? setup.data.parts[0];
  if (!chosen)
    return (
      <Screen where="Roll" title="Roll">
        <Empty title="No part to roll" text="Go back to the setup and add a part first." />
      </Screen>
    );
  return <RollPanel key={chosen.id} setup={setup.data} part={chosen} />;
}
