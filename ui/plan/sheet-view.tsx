import { MaterialCommunityIcons } from '@expo/vector-icons';
import Head from 'expo-router/head';
import { useRouter } from 'expo-router';
import { Pressable, StyleSheet, View } from 'react-native';
import { Action } from '../components/action';
import { Contradictions } from '../components/notice';
import { Screen } from '../components/screen';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { usePerson } from '../data/person';
import type { useSheet } from '../data/sheet-outbox';
import type { Sheet, Tick } from '../../api/plan';
import { TextField } from '../forms/fields';
import { TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { settingLines } from './setting-lines';

/** On paper: one page, black on white, without the app round it. */
const PRINT = `@media print {
  @page { margin: 12mm; }
  html, body, #root, #root div {
    height: auto !important; min-height: 0 !important; max-height: none !important; overflow: visible !important;
    background: #fff !important; position: static !important; flex-basis: auto !important;
  }
  #root * { color: #000 !important; border-color: #777 !important; }
  [role=navigation], [data-testid=screen-action], [data-testid=no-print] { display: none !important; }
  [data-testid^=line-] { break-inside: avoid; padding-top: 2px !important; padding-bottom: 2px !important; min-height: 0 !important; }
}`;

interface Props {
  sheet: Sheet;
  ticks: Map<string, Tick>;
  tick: ReturnType<typeof useSheet>['tick'];
  unsent: number;
}

/** The sheet for the set: what to lock, who must not touch what, and the parts in order, each line with its tick. */
export function SheetView({ sheet, ticks, tick, unsent }: Props) {
  const router = useRouter();
  const [person, setPerson] = usePerson();
  const { setup, shoot, steps } = sheet;
  const lines = settingLines(setup.camera);
  const next = steps.find((s) => !ticks.get(`part:${s.part.id}`)?.done && !s.part.optional && !s.elsewhere);
  const line = (key: string) => ({ tick: ticks.get(key), onPress: () => tick(key, !ticks.get(key)?.done, person) });
  return (
    <Screen
      where={`${shoot.name} / setup ${setup.number} / sheet`}
      title={setup.name}
      action={
        <View style={styles.actions}>
          <Action quiet label="Print" onPress={() => window.print()} style={styles.print} testID="print" />
          <View style={styles.main}>
            <Action
              label={next ? `Roll ${next.part.name}` : 'To the gate'}
              testID="sheet-next"
              onPress={() =>
                router.push(next ? `/setups/${setup.id}/roll?part=${next.part.id}` : `/setups/${setup.id}`)
              }
            />
          </View>
        </View>
      }
    >
      <Head>
        <style>{PRINT}</style>
      </Head>
      <Soft>{[setup.place, sheet.tricks.map((t) => t.name).join(', ')].filter(Boolean).join(' · ')}</Soft>
      {unsent > 0 && (
        <View testID="no-print">
          <Mono
            style={styles.unsent}
          >{`${unsent} ${unsent === 1 ? 'tick waits' : 'ticks wait'} to be sent; it is kept on this device`}</Mono>
        </View>
      )}
      <View testID="no-print">
        <Contradictions found={sheet.contradictions} />
      </View>
      <Heading style={styles.head}>Lock by hand</Heading>
      {lines.length === 0 && <Soft>No settings are noted for this setup yet.</Soft>}
      <View style={styles.settings}>
        {lines.map((l) => (
          <View key={l.key} style={styles.setting}>
            <Line id={`set:${l.key}`} title={l.value} note={l.name} {...line(`set:${l.key}`)} />
          </View>
        ))}
      </View>
      {sheet.orders.length > 0 && <Heading style={styles.head}>Say to everybody</Heading>}
      {sheet.orders.map((o) => (
        <Line key={o} id="order" title={o} {...line(`order:${o.slice(0, 150)}`)} />
      ))}
      <Heading style={styles.head}>Roll in this order</Heading>
      {steps.length === 0 && <Soft>Nothing to roll is planned here yet.</Soft>}
      {steps.map((s, i) => (
        <View key={s.part.id}>
          {i > 0 && s.roll === steps[i - 1].roll && <Mono style={styles.roll}>do not stop the camera</Mono>}
          <Line
            id={`part-${s.part.name}`}
            number={i + 1}
            title={
              `${s.part.name}, ${s.part.seconds} ` +
              `s${s.part.optional ? ', may be left out' : s.elsewhere ? ', at the other place' : ''}`
            }
            note={s.part.what}
            says={s.script.map((l) => l.say)}
            {...line(`part:${s.part.id}`)}
          />
        </View>
      ))}
      <View style={styles.who} testID="no-print">
        <TextField label="Your name, beside what you tick" value={person} onChange={setPerson} testID="person" />
      </View>
    </Screen>
  );
}

interface LineProps {
  id: string;
  number?: number;
  title: string;
  note?: string;
  says?: string[];
  tick?: Tick;
  onPress: () => void;
}

function Line({ id, number, title, note, says, tick, onPress }: LineProps) {
  const p = usePalette();
  const done = Boolean(tick?.done);
  const when = tick?.done
    ? new Date(tick.ticked_at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })
    : '';
  return (
    <Pressable
      role="checkbox"
      aria-checked={done}
      accessibilityLabel={title}
      onPress={onPress}
      testID={`line-${id}`}
      style={[styles.line, { borderBottomColor: p.line }]}
    >
      {number !== undefined && <Strong style={styles.number}>{String(number)}</Strong>}
      <View style={styles.words}>
        <Strong>{title}</Strong>
        {note ? <Soft>{note}</Soft> : null}
        {says?.map((s) => (
          <Body key={s}>{`“${s}”`}</Body>
        ))}
        {done && <Mono>{[tick?.ticked_by, when].filter(Boolean).join(', ')}</Mono>}
      </View>
      <MaterialCommunityIcons
        name={done ? 'checkbox-marked' : 'checkbox-blank-outline'}
        size={28}
        color={done ? p.holds : p.soft}
      />
    </Pressable>
  );
}

const styles = StyleSheet.create({
  head: { paddingTop: 16, paddingBottom: 2 },
  settings: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 18 },
  setting: { flexGrow: 1, flexBasis: 150 },
  line: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    paddingVertical: 8,
    borderBottomWidth: 1,
    minHeight: TOUCH,
  },
  number: { width: 22, fontSize: 20 },
  words: { flex: 1, minWidth: 0, gap: 2 },
  roll: { paddingTop: 4 },
  unsent: { paddingTop: 6 },
  who: { paddingTop: 18 },
  actions: { flexDirection: 'row', gap: 10 },
  print: { width: 96 },
  main: { flex: 1 },
});
