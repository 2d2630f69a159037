import { useLocalSearchParams, useRouter } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useBench } from '../../../ui/data/plate-hooks';
import { PlateBench } from '../../../ui/plates/plate-bench';

export default function PlatesScreen() {
  const router = useRouter();
  const { id, for: wished } = useLocalSearchParams<{ id: string; for?: string }>();
  const bench = useBench(id, wished ?? null);
  if (!bench.data) {
    return (
      <Screen where="Check" title="Plate bench">
        {bench.error ? <Failed error={bench.error} onAgain={bench.refetch} /> : <Loading what="the takes" />}
      </Screen>
    );
  }
  return <PlateBench bench={bench.data} onFor={(takeId) => router.setParams({ for: takeId })} />;
}
