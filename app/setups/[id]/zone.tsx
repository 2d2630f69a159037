import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useZones } from '../../../ui/data/pass-hooks';
import { ZoneScreen } from '../../../ui/passes/zone-screen';

export default function ZoneRoute() {
  const { id, planned } = useLocalSearchParams<{ id: string; planned?: string }>();
  const zones = useZones(id);
  if (!zones.data)
    return (
      <Screen where="Check" title="Zone">
        {zones.error ? <Failed error={zones.error} onAgain={zones.refetch} /> : <Loading what="the zone" />}
      </Screen>
    );
  return <ZoneScreen page={zones.data} planned={planned ?? null} />;
}
