import { useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View, type ScrollView } from 'react-native';
import { revealMode, type ProofWish } from '../../core/measures/cut/proof-plan';
import { worstOf } from '../../core/judge/verdicts';
import type { Verdict } from '../../core/report/types';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { Screen, useWide } from '../components/screen';
import { Empty, Failed } from '../components/states';
import { useUndo } from '../components/undo';
import { Body } from '../components/words';
import type { Proof, WipeBenchPage, WipeSide } from '../../api/wipes';
import { useAsk, useDropMeasure } from '../data/measure-hooks';
import { ChoiceField } from '../forms/fields';
import { ProofPlayer } from '../viewer/proof-player';
import { Ribbon, type Band } from '../viewer/ribbon';
import { CutChoices } from './cut-choices';
import { CoverFinding, CutFinding } from './findings';
import { HandEdges } from './hand-edges';
import { SidePicture } from './side-pictures';

type Mode = 'sides' | 'proof' | 'hand';
const MODES = [
  { value: 'sides', label: 'Both sides' },
  { value: 'proof', label: 'Proof' },
  { value: 'hand', label: 'Edge by hand' },
] as const;

interface Props {
  bench: WipeBenchPage;
  onSides: (sides: { out?: string; in?: string }) => void;
  onCoverAgain: () => void;
  onCutAgain: () => void;
}

/** Out side and in side of a wipe together: does the object cover, do both move alike, and does the cut work? */
export function WipeBench({ bench, onSides, ...again }: Props) {
  const out = bench.sides.find((s) => s.id === bench.outId) ?? null,
    into = bench.sides.find((s) => s.id === bench.inId) ?? null;
  const where = `${bench.shoot.name} / setup ${bench.setup.number}`;
  if (!out)
    return (
      <Screen where={where} title="Wipe bench">
        <Empty
          title="No measured take yet"
          text="Roll the out side of a wipe first: what covers the picture, and when, is found in it within seconds."
        />
      </Screen>
    );
  return (
    <Bench
      key={`${out.id} ${into?.id}`}
      bench={bench}
      out={out}
      into={into}
      where={where}
      onSides={onSides}
      {...again}
    />
  );
}

function Bench({
  bench,
  out,
  into,
  where,
  onSides,
  onCoverAgain,
  onCutAgain,
}: Props & { out: WipeSide; into: WipeSide | null; where: string }) {
  const router = useRouter();
  const wide = useWide();
  const bleed = wide ? 0 : 18;
  const make = useAsk('proof', ['wipes']);
  const drop = useDropMeasure(['wipes']);
  const undo = useUndo();
  const { cover, cut } = bench;
  const measure = cover?.result ?? null;
  const [mode, setMode] = useState<Mode>('sides');
  const scroll = useRef<ScrollView>(null);
  // What was asked for is at the top: on a phone it may be scrolled away.
  useEffect(() => {
    scroll.current?.scrollTo({ y: 0, animated: false });
  }, [mode]);
  const [proofId, setProofId] = useState<string | null>(null);
  const last = bench.proofs[0]?.wish;
  const [wish, setWish] = useState<ProofWish>({
    at: last?.at ?? null,
    in_start: last?.in_start ?? 0,
    speed_pct: last?.speed_pct ?? 100,
    mirror: last?.mirror ?? false,
    feather_px: last?.feather_px ?? null,
    mode: last?.mode ?? null,
  });
  const [chosen, setChosen] = useState<number | null>(null);
  const measuredAt =
    measure &&
    (revealMode(measure.kind) === 'instead' ? measure.enter_frame : (measure.cut.in_first_frame ?? measure.peak_frame));
  const at = wish.at ?? measuredAt ?? null;
  const frame = Math.min(
    chosen ?? (at === null ? (measure?.peak_frame ?? 0) : Math.min(at + 6, out.frame_count - 1)),
    out.frame_count - 1,
  );
  const go = useCallback((f: number) => setChosen(Math.max(0, Math.min(out.frame_count - 1, f))), [out.frame_count]);
  const show = useCallback(
    (f: number) => {
      setMode('sides');
      go(f);
    },
    [go],
  );
  const pace = ((into?.fps ?? 25) / (out.fps ?? 25)) * (wish.speed_pct / 100);
  const inFrame = into
    ? Math.max(0, Math.min(into.frame_count - 1, wish.in_start + Math.floor((frame - (at ?? frame)) * pace + 1e-6)))
    : 0;
  const proof = bench.proofs.find((p) => p.id === proofId) ?? bench.proofs[0] ?? null;
  const bands = useMemo(() => coverBands(bench), [bench]);
  const worst = worstOf([cover?.verdict, cut?.verdict].filter((v): v is Verdict => Boolean(v)));
  const remove = (p: Proof) =>
    drop.mutate(
      { id: p.id, on: true },
      { onSuccess: () => undo({ text: 'Proof removed.', undo: () => drop.mutate({ id: p.id, on: false }) }) },
    );
  const crossing = cut?.result && cut.result.out.angle_deg === null ? (measure?.direction_deg ?? null) : null;
  const fastest = Math.max(cut?.result?.out.speed_widths_per_s ?? 0, cut?.result?.in.speed_widths_per_s ?? 0);
  const ready = into !== null && cover?.state === 'done' && measure !== null;

  const sides = (
    <View style={styles.stack}>
      <View style={[wide && styles.beside, { marginHorizontal: -bleed }]}>
        <View style={styles.cell}>
          <SidePicture
            side={out}
            name="Out side"
            frame={frame}
            onFrame={go}
            edges={cover?.result?.edges ?? null}
            movement={cut?.result?.out ?? null}
            fastest={fastest}
            crossing={crossing}
            note={outNote(bench, frame, at)}
            bleed={bleed}
            testID="out-side"
            slim={wide}
          />
        </View>
        {into && (
          <View style={styles.cell}>
            <SidePicture
              side={into}
              name="In side"
              frame={inFrame}
              onFrame={(f) =>
                setWish({ ...wish, in_start: Math.max(0, Math.min(into.frame_count - 1, wish.in_start + f - inFrame)) })
              }
              edges={null}
              movement={cut?.result?.in ?? null}
              fastest={fastest}
              crossing={null}
              bleed={bleed}
              note={at === null ? 'no cut frame yet' : `frame ${wish.in_start} lies under out frame ${at}`}
              testID="in-side"
              slim={wide}
            />
          </View>
        )}
      </View>
      {bands.length > 0 && <Ribbon bands={bands} frame={frame} onFrame={go} />}
      {ready && (
        <CutChoices {...{ out, into, pace, wish, at, frame, measure }} cut={cut?.result ?? null} onWish={setWish} />
      )}
    </View>
  );
  const proofs = (
    <View style={styles.stack}>
      {proof ? (
        <ProofPlayer key={proof.id} proof={proof} {...saidOf(proof)} wide={wide} onRemove={() => remove(proof)} />
      ) : (
        <Empty
          title="No proof yet"
          text={
            'A proof plays the in side behind the measured edge, so that everybody on set sees whether the ' +
            'cut works. It takes a few seconds.'
          }
        />
      )}
      {bench.proofs.length > 1 && (
        <ChoiceField
          name="Proofs of this pair"
          value={proof?.id ?? ''}
          onChange={setProofId}
          options={bench.proofs.map((p, i) => ({
            value: p.id,
            label: `${bench.proofs.length - i}: in ${p.wish.in_start}${p.wish.mirror ? ', mirrored' : ''}`,
          }))}
          testID="proof-list"
        />
      )}
    </View>
  );
  const main =
    mode === 'sides' ? (
      sides
    ) : mode === 'proof' ? (
      proofs
    ) : (
      <HandEdges
        side={out}
        cover={cover}
        delivery={{ width: bench.shoot.delivery_width, height: bench.shoot.delivery_height }}
        wide={wide}
        bleed={bleed}
        onDone={() => setMode('sides')}
      />
    );
  const findings = (
    <View style={styles.stack}>
      <CoverFinding bench={bench} onFrame={show} onHand={() => setMode('hand')} onAgain={onCoverAgain} />
      {into && <CutFinding bench={bench} onAgain={onCutAgain} />}
    </View>
  );
  const pair = (
    <View>
      <ChoiceField
        name="Out side"
        value={out.id}
        onChange={(id) => onSides({ out: id })}
        options={bench.sides
          .filter((s) => s.setup_id === bench.setup.id && s.role !== 'in-side')
          .concat(bench.sides.filter((s) => s.id === out.id && (s.setup_id !== bench.setup.id || s.role === 'in-side')))
          .map(option)}
        testID="choose-out"
      />
      <ChoiceField
        name="In side"
        value={into?.id ?? ''}
        onChange={(id) => onSides({ in: id })}
        options={inSides(bench, out).map(option)}
        testID="choose-in"
      />
      {!into && <Body>Roll the in side, or choose any other take: then both sides are held against each other.</Body>}
    </View>
  );
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
          label={make.isPending ? 'Asking for it' : 'Make the proof'}
          disabled={!ready || make.isPending}
          testID="make-proof"
          onPress={() =>
            into &&
            make.mutate(
              { takes: [out.id, into.id], wish },
              {
                onSuccess: (made) => {
                  setProofId(made.id);
                  setMode('proof');
                  scroll.current?.scrollTo({ y: 0, animated: false });
                },
              },
            )
          }
        />
      </View>
    </View>
  );
  const modes = <ChoiceField name="Show" value={mode} onChange={setMode} options={MODES} testID="wipe-mode" />;
  const sign = worst ? <Disc verdict={worst.verdict} size={44} /> : undefined;
  if (!wide) {
    return (
      <Screen
        where={where}
        title="Wipe bench"
        sign={sign}
        action={mode === 'hand' ? undefined : makeAction}
        scroll={scroll}
      >
        {modes}
        {main}
        {make.error && <Failed error={make.error} />}
        {mode !== 'hand' && (
          <View style={styles.below}>
            {findings}
            {pair}
          </View>
        )}
      </Screen>
    );
  }
  return (
    <Screen where={where} title="Wipe bench" sign={sign} full>
      <View style={styles.wide}>
        <View style={styles.picture}>
          {modes}
          {main}
          {pair}
        </View>
        <View style={styles.findings}>
          {make.error && <Failed error={make.error} />}
          {mode !== 'hand' && makeAction}
          {findings}
        </View>
      </View>
    </Screen>
  );
}

/** What is said of a proof. */
function saidOf({ result }: Proof) {
  if (!result) return { framesAt: () => '', note: '', complaint: null };
  const alone = result.done === null ? '' : `, alone from ${result.done} on`;
  return {
    framesAt: (n: number) => `out ${result.out[n]}, in ${result.in[n] ?? '–'}`,
    note: `In side from under frame ${result.from}${alone}; feather ${result.feather_px.toFixed(0)} px.`,
    complaint: result.in_missing
      ? `The in side is ${result.in_missing} frames too short and stands still at the end.`
      : null,
  };
}

const option = (s: WipeSide) => ({ value: s.id, label: s.circled ? `${s.label}, circled` : s.label });

/** Takes that may be the in side: this setup's and every in side of the shoot, the chosen one among them. */
function inSides(bench: WipeBenchPage, out: WipeSide): WipeSide[] {
  const own = bench.sides.filter(
    (s) =>
      s.id !== out.id &&
      (s.role === 'in-side' || s.setup_id === bench.setup.id) &&
      !(s.role === 'out-side' && s.id !== bench.inId),
  );
  return [...own].sort((a, b) => Number(b.setup_id === bench.setup.id) - Number(a.setup_id === bench.setup.id));
}

function outNote({ cover }: WipeBenchPage, frame: number, at: number | null): string {
  const share = cover?.result?.path.cover_share[frame] ?? null;
  const covered =
    share === null ? 'cover not known' : `${(100 * share).toFixed(share > 0.99 && share < 0.9995 ? 1 : 0)} % covered`;
  return at === null ? covered : `${covered}; cut at ${at}`;
}

function coverBands({ cover }: WipeBenchPage): Band[] {
  const m = cover?.result;
  if (!m) return [];
  const marks = [m.enter_frame, m.first_full_frame, m.last_full_frame, m.leave_frame].filter((f) => f !== null);
  return [
    {
      name: 'covered',
      unit: '%',
      values: m.path.cover_share.map((s) => (s === null ? null : 100 * s)),
      limit: null,
      least: 100,
      faults: [],
      marks,
      sentence:
        m.first_full_frame === null
          ? `At most ${(100 * m.peak_cover_share).toFixed(0)} per cent are covered.`
          : `All is covered from frame ${m.first_full_frame} to ${m.last_full_frame}.`,
    },
  ];
}

const styles = StyleSheet.create({
  stack: { gap: 14 },
  below: { gap: 16, paddingTop: 18 },
  beside: { flexDirection: 'row', gap: 10 },
  cell: { flex: 1, minWidth: 0 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  picture: { flex: 62, minWidth: 0, gap: 12 },
  findings: { flex: 38, minWidth: 300, gap: 16 },
  actions: { flexDirection: 'row', gap: 10 },
  gate: { width: 96 },
  main: { flex: 1 },
});
