import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';
import { SUM_SHEETS, workOut } from '../../core/calculators/sheets';
import { Action } from '../components/action';
import { MenuButton } from '../components/menu-button';
import { Row } from '../components/row';
import { Heading } from '../components/words';
import { useUndo } from '../components/undo';
import { useDropSum, useKeepSum } from '../data/plan-hooks';
import type { PlannedPage } from '../../api/boards';
import type { KeptSum } from '../../api/plan';

/** The sums kept with a trick, and those it calls for. */
export function TrickSums({ planned }: { planned: PlannedPage }) {
  const router = useRouter();
  const drop = useDropSum();
  const keep = useKeepSum();
  const undo = useUndo();
  const remove = (s: KeptSum) =>
    drop.mutate(s.id, {
      onSuccess: () =>
        undo({
          text: `${SUM_SHEETS[s.kind].name} is dropped.`,
          undo: () => keep.mutate({ plannedId: planned.id, kind: s.kind, inputs: s.inputs }),
        }),
    });
  const open = planned.trick.sums.filter((kind) => !planned.sums.some((s) => s.kind === kind));
  if (planned.sums.length === 0 && open.length === 0) return null;
  return (
    <>
      <Heading style={styles.head}>Sums</Heading>
      {planned.sums.map((s) => {
        const { result, error } = workOut(s.kind, s.inputs);
        const said =
          error ??
          result!.answers
            .filter((a) => a.main)
            .map((a) => `${a.label} ${a.value}${a.unit ? ` ${a.unit}` : ''}`)
            .join(', ');
        return (
          <Row
            key={s.id}
            title={SUM_SHEETS[s.kind].name}
            text={[said, ...(result?.cautions ?? [])].join('. ')}
            testID={`kept-${s.kind}`}
            href={{
              pathname: '/sums/[kind]',
              params: { kind: s.kind, planned: planned.id, inputs: JSON.stringify(s.inputs) },
            }}
            trail={
              <MenuButton
                label={`More for ${SUM_SHEETS[s.kind].name}`}
                entries={[{ label: 'Drop this sum', onPress: () => remove(s) }]}
              />
            }
          />
        );
      })}
      <View style={styles.open}>
        {open.map((kind) => (
          <Action
            key={kind}
            quiet
            label={SUM_SHEETS[kind].name}
            icon="calculator-variant-outline"
            testID={`do-${kind}`}
            onPress={() => router.push({ pathname: '/sums/[kind]', params: { kind, planned: planned.id } })}
          />
        ))}
      </View>
    </>
  );
}

const styles = StyleSheet.create({ head: { paddingTop: 18, paddingBottom: 4 }, open: { gap: 8, paddingTop: 10 } });
