import { useLocalSearchParams, useRouter } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { usePassBench } from '../../../ui/data/pass-hooks';
import { PassBench } from '../../../ui/passes/pass-bench';

export default function PassesScreen() {
  const router = useRouter();
  const { id, first, second } = useLocalSearchParams<{ id: string; first?: string; second?: string }>();
  const bench = usePassBench(id, first ?? null, second ?? null);
  if (!bench.data) {
    return (
      <Screen where="Check" title="Pass bench">
        {bench.error ? <Failed error={bench.error} onAgain={bench.refetch} /> : <Loading what="the passes" />}
      </Screen>
    );
  }
  return <PassBench bench={bench.data} onTakes={(takes) => router.setParams(takes)} />;
}
