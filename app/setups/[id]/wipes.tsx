import { useLocalSearchParams, useRouter } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useWipeBench } from '../../../ui/data/wipe-hooks';
import { WipeBench } from '../../../ui/wipes/wipe-bench';

export default function WipesScreen() {
  const router = useRouter();
  const { id, out, in: into } = useLocalSearchParams<{ id: string; out?: string; in?: string }>();
  const bench = useWipeBench(id, out ?? null, into ?? null);
  if (!bench.data) {
    return (
      <Screen where="Check" title="Wipe bench">
        {bench.error ? <Failed error={bench.error} onAgain={bench.refetch} /> : <Loading what="the takes" />}
      </Screen>
    );
  }
  return (
    <WipeBench
      bench={bench.data}
      onSides={(sides) => router.setParams(sides)}
      onCoverAgain={bench.coverAgain}
      onCutAgain={bench.cutAgain}
    />
  );
}
