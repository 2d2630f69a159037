import { useLocalSearchParams } from 'expo-router';
import { Screen } from '../../../ui/components/screen';
import { Failed, Loading } from '../../../ui/components/states';
import { useRememberedSetup } from '../../../ui/data/last-setup';
import { useSheet } from '../../../ui/data/sheet-outbox';
import { SheetView } from '../../../ui/plan/sheet-view';

export default function SheetScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { sheet, error, refetch, ticks, tick, unsent } = useSheet(id);
  useRememberedSetup(sheet?.setup);
  if (!sheet) {
    return (
      <Screen where="Roll" title="Sheet">
        {error ? <Failed error={error} onAgain={refetch} /> : <Loading what="the sheet" />}
      </Screen>
    );
  }
  return <SheetView sheet={sheet} ticks={ticks} tick={tick} unsent={unsent} />;
}
