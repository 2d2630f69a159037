import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Dialog, Portal } from 'react-native-paper';
import type { SumAnswer, SumKind, SumValues } from '../../core/calculators/kinds';
import { SUM_SHEETS, usualValues, workOut } from '../../core/calculators/sheets';
import { Action } from '../components/action';
import { Cautions } from '../components/notice';
import { Row } from '../components/row';
import { Screen, useWide } from '../components/screen';
import { Failed } from '../components/states';
import { useUndo } from '../components/undo';
import { Body, Mono, Soft } from '../components/words';
import { useSetup } from '../data/hooks';
import { useLastSetup } from '../data/last-setup';
import { useKeepSum, usePlanned } from '../data/plan-hooks';
import { ChoiceField, FieldGrid, TextField } from '../forms/fields';
import { FONT } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { RoomInTakes } from './room-in-takes';
import { SensorChoice } from './sensor-choice';
import { SumCurveChart } from './sum-curve';

interface Props {
  kind: SumKind;
  plannedId: string | null;
  start: SumValues | null;
}

/** One sum: answers on top as one types, the working in one line, a curve where it says more than a number. */
export function SumScreen({ kind, plannedId, start }: Props) {
  const router = useRouter();
  const wide = useWide();
  const undo = useUndo();
  const sheet = SUM_SHEETS[kind];
  const [values, setValues] = useState<SumValues>(() => ({ ...usualValues(kind), ...start }));
  const [choosing, setChoosing] = useState(false);
  const planned = usePlanned(plannedId ?? '').data;
  const keep = useKeepSum();
  const { result, error } = workOut(kind, values);
  const put = (key: string, value: string) => setValues((v) => ({ ...v, [key]: value }));
  const keepWith = (id: string, name: string) =>
    keep.mutate(
      { plannedId: id, kind, inputs: numeric(kind, values) },
      {
        onSuccess: () => {
          setChoosing(false);
          undo({ text: `Kept with ${name}.` });
          if (plannedId) router.replace(`/planned/${id}`);
        },
      },
    );
  const name = planned?.trick.name;
  const hasSensor = sheet.inputs.some((i) => i.key === 'sensor_width');
  return (
    <Screen
      where={name ? `Sums / ${name}` : 'Sums'}
      title={sheet.name}
      full={wide}
      action={
        <Action
          label={name ? `Keep it with ${name}` : 'Keep it with a trick'}
          disabled={error !== null || keep.isPending}
          testID="keep-sum"
          onPress={() => (plannedId && name ? keepWith(plannedId, name) : setChoosing(true))}
        />
      }
    >
      <View style={wide ? styles.columns : undefined}>
        <View style={wide ? styles.column : undefined}>
          <Soft>{sheet.answers}</Soft>
          <View style={styles.answers} testID="answers" aria-live="polite">
            {result?.answers.map((a) => (
              <Answer key={a.label} answer={a} />
            ))}
            {error && <Body>{error}</Body>}
          </View>
          {result && <Mono style={styles.working}>{result.working}</Mono>}
          <Cautions texts={result?.cautions ?? []} testID="cautions" />
          {kind === 'double-room' && planned && (
            <RoomInTakes planned={planned} values={values} onUse={(taken) => setValues((v) => ({ ...v, ...taken }))} />
          )}
          {wide && result?.curve && <SumCurveChart curve={result.curve} />}
        </View>
        <View style={wide ? styles.column : undefined}>
          {hasSensor && (
            <SensorChoice
              width={Number(values.sensor_width)}
              height={Number(values.sensor_height)}
              onChoose={(s) => setValues((v) => ({ ...v, sensor_width: s.width_mm, sensor_height: s.height_mm }))}
            />
          )}
          <FieldGrid>
            {sheet.inputs.map((i) =>
              i.kind === 'choice' ? (
                <ChoiceField
                  key={i.key}
                  name={i.label}
                  value={String(values[i.key])}
                  options={i.options}
                  onChange={(v) => put(i.key, v)}
                />
              ) : (
                <TextField
                  key={i.key}
                  label={i.kind === 'number' && i.unit ? `${i.label}, ${i.unit}` : i.label}
                  value={String(values[i.key] ?? '')}
                  onChange={(v) => put(i.key, v)}
                  testID={`input-${i.key}`}
                />
              ),
            )}
          </FieldGrid>
          {!wide && result?.curve && (
            <View style={styles.curve}>
              <SumCurveChart curve={result.curve} />
            </View>
          )}
          {keep.error && <Failed error={keep.error} />}
        </View>
      </View>
      {choosing && <ChooseTrick onClose={() => setChoosing(false)} onChoose={keepWith} />}
    </Screen>
  );
}

/** Numbers as numbers, so that what is kept can be worked out anywhere. */
function numeric(kind: SumKind, values: SumValues): SumValues {
  return Object.fromEntries(
    SUM_SHEETS[kind].inputs.map((i) => {
      const v = values[i.key] ?? i.usual;
      return [i.key, i.kind === 'number' ? Number(String(v).replace(',', '.')) : String(v)];
    }),
  );
}

/** The tricks of the setup one is at. */
function ChooseTrick({ onClose, onChoose }: { onClose: () => void; onChoose: (id: string, name: string) => void }) {
  const last = useLastSetup();
  const setup = useSetup(last?.id ?? '');
  const tricks = setup.data?.planned ?? [];
  return (
    <Portal>
      <Dialog visible onDismiss={onClose} style={styles.dialog}>
        <Dialog.Title>{setup.data ? `Tricks of setup ${setup.data.number}` : 'Keep it with a trick'}</Dialog.Title>
        <Dialog.Content>
          {tricks.map((t) => (
            <View key={t.id} style={styles.choice}>
              <Action quiet label={t.trick.name} onPress={() => onChoose(t.id, t.trick.name)} />
            </View>
          ))}
          {tricks.length === 0 && (
            <Row
              title="No trick to keep it with"
              text="Open the setup first and put a trick on it; the sum is then kept with that trick."
            />
          )}
          <Action label="Cancel" onPress={onClose} />
        </Dialog.Content>
      </Dialog>
    </Portal>
  );
}

function Answer({ answer }: { answer: SumAnswer }) {
  const p = usePalette();
  return (
    <View style={styles.answer}>
      <Text style={[answer.main ? styles.big : styles.small, { color: p.ink }]}>
        {answer.value}
        {answer.unit ? <Text style={[styles.unit, { color: p.soft }]}>{` ${answer.unit}`}</Text> : null}
      </Text>
      <Mono>{answer.label}</Mono>
    </View>
  );
}

const styles = StyleSheet.create({
  columns: { flexDirection: 'row', gap: 36, alignItems: 'flex-start' },
  column: { flex: 1, minWidth: 0 },
  answers: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    columnGap: 26,
    rowGap: 12,
    paddingVertical: 12,
    alignItems: 'flex-end',
  },
  answer: { minWidth: 96, flexShrink: 1 },
  big: { fontFamily: FONT.monoBold, fontSize: 30, letterSpacing: -1.4, lineHeight: 37 },
  small: { fontFamily: FONT.monoBold, fontSize: 18, letterSpacing: -0.6, lineHeight: 24 },
  unit: { fontFamily: FONT.mono, fontSize: 13, letterSpacing: 0 },
  working: { paddingBottom: 8 },
  curve: { paddingTop: 18 },
  choice: { paddingBottom: 10 },
  dialog: { maxWidth: 460, alignSelf: 'center', width: '92%' },
});
