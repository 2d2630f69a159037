import { useLocalSearchParams, useRouter } from 'expo-router';
import { TakesCompare } from '../../../ui/compare/takes-compare';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useSetup } from '../../../ui/data/hooks';

export default function CompareScreen() {
  const router = useRouter();
  const { id, take, against } = useLocalSearchParams<{ id: string; take?: string; against?: string }>();
  const setup = useSetup(id);
  if (!setup.data) {
    return (
      <Screen where="Check" title="Take against take">
        {setup.error ? <Failed error={setup.error} onAgain={setup.refetch} /> : <Loading what="the takes" />}
      </Screen>
    );
  }
  return (
    <TakesCompare
      setup={setup.data}
      first={take ?? null}
      second={against ?? null}
      onChoose={(a, b) => router.setParams({ take: a, against: b })}
    />
  );
}
