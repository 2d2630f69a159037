import { useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View, type ScrollView } from 'react-native';
import type { Joined, PassBenchPage, PassTake } from '../../api/passes';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { Screen, useWide } from '../components/screen';
import { Empty, Failed } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { useUndo } from '../components/undo';
import { Mono } from '../components/words';
import { useAsk, useDropMeasure } from '../data/measure-hooks';
import { ChoiceField } from '../forms/fields';
import { SlideField } from '../forms/slide-field';
import { ProofPlayer } from '../viewer/proof-player';
import { Ribbon } from '../viewer/ribbon';
import { useKeys } from '../viewer/use-keys';
import { JoinedChoices } from './joined-choices';
import { pointMoved } from './line-by-hand';
import { PassFindings } from './pass-findings';
import { PassPicture, type Seen } from './pass-picture';
import { LineTools, SlideTools } from './pass-tools';
import { asWished, gapBand, missingFor, saidOf } from './proof-wish';
import { JOINING_WAYS } from '../../core/measures/joined/joining-ways';
import { usePassing } from './use-passing';

const MODES = [
  { value: 'both', label: 'Both' },
  { value: 'proof', label: 'Proof' },
] as const;
const SEEN: { value: Seen; label: string }[] = [
  { value: 'mixed', label: 'Mixed' },
  { value: 'joined', label: 'Joined' },
  { value: 'difference', label: 'Difference' },
  { value: 'first', label: 'First' },
  { value: 'second', label: 'Second' },
];
/** A difference that is not lifted is black. */
const DIFFERENCE_LIFT = 3;
/** Keys of the pass bench, as they are listed in the app. */
export const PASS_KEYS = 'Keys: M J D ways, 1 2 each alone, , and . frames, arrows move the held point 1 px (Shift 10)';

interface Props {
  bench: PassBenchPage;
  onTakes: (takes: { first?: string; second?: string }) => void;
}

/** Two passes, or a pass and its plate, in one picture: who is where, the line between them, and how they look joined. */
export function PassBench({ bench, onTakes }: Props) {
  const first = bench.takes.find((t) => t.id === bench.firstId) ?? null,
    second = bench.takes.find((t) => t.id === bench.secondId) ?? null;
  const where = `${bench.shoot.name} / setup ${bench.setup.number}`;
  if (!first || !second)
    return (
      <Screen where={where} title="Pass bench">
        <Empty
          title="Two measured takes are needed"
          text="Roll both passes, or a pass and its plate: then they are laid on each other here, with the line that parts them."
        />
      </Screen>
    );
  const key = `${first.id} ${second.id}`;
  return <Bench key={key} bench={bench} first={first} second={second} where={where} onTakes={onTakes} />;
}

function Bench({ bench, first, second, where, onTakes }: Props & { first: PassTake; second: PassTake; where: string }) {
  const router = useRouter();
  const wide = useWide();
  const bleed = wide ? 0 : 18;
  const make = useAsk('joined', ['passes']);
  const drop = useDropMeasure(['passes']);
  const undo = useUndo();
  const passing = usePassing(bench, first, second);
  const { wish, line, size, picked, trace } = passing;
  const [mode, setMode] = useState<'both' | 'proof'>('both');
  const [seen, setSeen] = useState<Seen>('mixed');
  const [share, setShare] = useState(0.5);
  const [lift, setLift] = useState(0);
  const [chosen, setChosen] = useState<number | null>(null);
  const [proofId, setProofId] = useState<string | null>(null);
  const scroll = useRef<ScrollView>(null);
  useEffect(() => {
    scroll.current?.scrollTo({ y: 0, animated: false });
  }, [mode]);
  const nearest = bench.pair?.result?.closest_frame ?? null;
  const start = wish.at ?? nearest ?? Math.floor(first.frame_count / 2);
  const frame = Math.max(0, Math.min(first.frame_count - 1, chosen ?? start));
  const go = useCallback(
    (f: number) => {
      setMode('both');
      setChosen(Math.max(0, Math.min(first.frame_count - 1, f)));
    },
    [first.frame_count],
  );
  const look = useCallback(
    (next: Seen) => {
      setSeen(next);
      setLift((old) => (next === 'difference' ? DIFFERENCE_LIFT : seen === 'difference' ? 0 : old));
    },
    [seen],
  );
  useKeys((key, shift) => {
    if (mode !== 'both') return false;
    const by = shift ? 10 : 1;
    const arrow = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[key];
    const way = { m: 'mixed', j: 'joined', d: 'difference', '1': 'first', '2': 'second' }[key.toLowerCase()];
    if (arrow && line && picked !== null && line.points[picked]) {
      const [x, y] = line.points[picked];
      passing.setLine(pointMoved(line, picked, [x + arrow[0], y + arrow[1]], size));
    } else if (key === 'Escape' && picked !== null) passing.pick(null);
    else if (key === ',' || key === '.') go(frame + (key === ',' ? -1 : 1));
    else if (arrow && arrow[0] !== 0) go(frame + arrow[0]);
    else if (way) look(way as Seen);
    else return false;
    return true;
  });
  const under = passing.under(frame);
  const move = passing.moveAt(frame);
  const bands = useMemo(() => gapBand(trace, wish.at), [trace, wish.at]);
  const shownFirst = useMemo(() => ({ id: first.id, frame, count: first.frame_count }), [first, frame]);
  const shownSecond = useMemo(() => ({ id: second.id, frame: under, count: second.frame_count }), [second, under]);

  const both = (
    <View style={styles.stack}>
      <View style={{ marginHorizontal: -bleed }}>
        <PassPicture
          first={shownFirst}
          second={shownSecond}
          width={size.width}
          height={size.height}
          seen={seen}
          share={share}
          lift={lift}
          joined={passing.joinedAt(frame)}
          line={move ?? line}
          held={move !== null}
          feather={passing.feather}
          against={passing.against}
          grid={passing.grid}
          spill={passing.spillAt(frame)}
          zone={passing.zone}
          picked={picked}
          onPick={passing.pick}
          onLine={passing.setLine}
          onSettle={passing.settle}
        />
      </View>
      <View style={styles.tools}>
        <ToolButton icon="chevron-double-left" label="Ten frames back" onPress={() => go(frame - 10)} />
        <ToolButton icon="chevron-left" label="One frame back" onPress={() => go(frame - 1)} testID="pass-back" />
        <ToolButton icon="chevron-right" label="One frame on" onPress={() => go(frame + 1)} testID="pass-on" />
        <ToolButton icon="chevron-double-right" label="Ten frames on" onPress={() => go(frame + 10)} />
        <View style={styles.at} testID="pass-frames">
          <Mono>{`frames ${frame} and ${under}`}</Mono>
        </View>
      </View>
      {bands.length > 0 && <Ribbon bands={bands} frame={frame} onFrame={go} />}
      <ChoiceField name="Seen" value={seen} onChange={look} options={SEEN} testID="pass-seen" />
      {seen === 'mixed' && (
        <SlideField
          label={`Share of ${second.label}`}
          said={`${Math.round(100 * share)} %`}
          value={Math.round(100 * share)}
          least={0}
          most={100}
          step={1}
          onChange={(v) => setShare(v / 100)}
          testID="share"
        />
      )}
      <SlideField
        label={seen === 'difference' ? 'Difference, multiplied' : 'Exposure lifted'}
        said={seen === 'difference' ? `${2 ** lift} times` : `${lift > 0 ? '+' : ''}${lift} stop`}
        value={lift}
        least={seen === 'difference' ? 0 : -2}
        most={6}
        step={1}
        onChange={setLift}
        testID="pass-lift"
      />
      {wide && <Mono>{PASS_KEYS}</Mono>}
    </View>
  );
  const proof = bench.proofs.find((p) => p.id === proofId) ?? bench.proofs[0] ?? null;
  const remove = (p: Joined) =>
    drop.mutate(
      { id: p.id, on: true },
      { onSuccess: () => undo({ text: 'Proof removed.', undo: () => drop.mutate({ id: p.id, on: false }) }) },
    );
  const proofs = (
    <View style={styles.stack}>
      {proof ? (
        <ProofPlayer
          key={proof.id}
          proof={proof}
          {...saidOf(proof, first, second)}
          wide={wide}
          onRemove={() => remove(proof)}
        />
      ) : (
        <Empty
          title="No proof yet"
          text="A proof plays the two joined, so that everybody on set sees whether the trick works. It takes a few seconds."
        />
      )}
      {bench.proofs.length > 1 && (
        <ChoiceField
          name="Proofs of these two"
          value={proof?.id ?? ''}
          onChange={setProofId}
          options={bench.proofs.map((p, i) => ({
            value: p.id,
            label: `${bench.proofs.length - i}: ${JOINING_WAYS[p.wish.how].name.toLowerCase()}`,
          }))}
          testID="proof-list"
        />
      )}
    </View>
  );
  const modes = <ChoiceField name="Show" value={mode} onChange={setMode} options={MODES} testID="pass-mode" />;
  const missing = missingFor(passing, first, second);
  const makeAction = (
    <View style={styles.actions}>
      <Action
        quiet
        label="Gate"
        onPress={() => router.push(`/setups/${bench.setup.id}`)}
        style={styles.gate}
        testID="to-gate"
      />
      <View style={styles.main}>
        <Action
          label={make.isPending ? 'Asking for it' : (missing ?? 'Make the proof')}
          disabled={missing !== null || make.isPending}
          testID="make-proof"
          onPress={() =>
            make.mutate(
              { takes: [first.id, second.id], wish: asWished(passing, frame, first) },
              {
                onSuccess: (made) => {
                  setProofId(made.id);
                  setMode('proof');
                },
              },
            )
          }
        />
      </View>
    </View>
  );
  const tools = mode === 'both' && (
    <View style={styles.stack}>
      {line && <LineTools passing={passing} first={first} second={second} onFrame={go} />}
      {!second.plate && <SlideTools passing={passing} first={first} second={second} />}
      <JoinedChoices
        passing={passing}
        setupId={bench.setup.id}
        first={first}
        second={second}
        frame={frame}
        frameCount={first.frame_count}
        onFrame={go}
      />
    </View>
  );
  const findings = <PassFindings bench={bench} first={first} second={second} onFrame={go} />;
  const option = (t: PassTake) => ({ value: t.id, label: t.circled ? `${t.label}, circled` : t.label });
  const choice = (
    <View>
      <ChoiceField
        name="First"
        value={first.id}
        onChange={(id) => onTakes({ first: id, second: id === second.id ? first.id : second.id })}
        options={bench.takes.map(option)}
        testID="choose-first"
      />
      <ChoiceField
        name="Second"
        value={second.id}
        onChange={(id) => onTakes({ first: first.id, second: id })}
        options={bench.takes.filter((t) => t.id !== first.id).map(option)}
        testID="choose-second"
      />
    </View>
  );
  const own = bench.wants ? bench.moment : wish.how === 'switch' ? bench.hide : bench.pair;
  const verdict = own?.verdict?.verdict;
  const sign =
    verdict && (bench.wants || !(second.plate && wish.how !== 'switch')) ? (
      <Disc verdict={verdict} size={44} />
    ) : undefined;
  const failed = make.error && <Failed error={make.error} />;
  if (!wide)
    return (
      <Screen where={where} title="Pass bench" sign={sign} action={makeAction} scroll={scroll}>
        {modes}
        {mode === 'both' ? both : proofs}
        {failed}
        <View style={styles.below}>
          {tools}
          {findings}
          {choice}
        </View>
      </Screen>
    );
  return (
    <Screen where={where} title="Pass bench" sign={sign} full>
      <View style={styles.wide}>
        <View style={styles.picture}>
          {modes}
          {mode === 'both' ? both : proofs}
          {choice}
        </View>
        <View style={styles.side}>
          {failed}
          {makeAction}
          {findings}
          {tools}
        </View>
      </View>
    </Screen>
  );
}

const styles = StyleSheet.create({
  stack: { gap: 10 },
  tools: { flexDirection: 'row', alignItems: 'center' },
  at: { flex: 1, alignItems: 'flex-end' },
  below: { gap: 18, paddingTop: 14 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  picture: { flex: 62, minWidth: 0, gap: 12 },
  side: { flex: 38, minWidth: 300, gap: 16 },
  actions: { flexDirection: 'row', gap: 10 },
  gate: { width: 96 },
  main: { flex: 1 },
});
