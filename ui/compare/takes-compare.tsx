import { useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import {
  judgeContents,
  judgeSameLight,
  judgeSamePosition,
  type PairSide,
} from '../../core/measures/compare/takes-apart';
import type { Finding } from '../../core/judge/measure';
import { LIMITS } from '../../core/judge/limits';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { Screen, useWide } from '../components/screen';
import { Empty, Failed } from '../components/states';
import { UnderWay } from '../components/under-way';
import { Body, Heading, Mono, Soft, Strong } from '../components/words';
import { useReport } from '../data/hooks';
import { useFoundMeasure, useMakeAgain } from '../data/measure-hooks';
import { useCompared } from '../data/plate-hooks';
import type { SetupPage } from '../../api/boards';
import type { TakesCompared } from '../../api/takes';
import { ChoiceField } from '../forms/fields';
import { usePalette } from '../theme/theme';
import { framePicture } from '../viewer/frame-picture';
import { Ribbon } from '../viewer/ribbon';
import { takeBands } from '../viewer/take-bands';
import { LayByMarks, slideWords } from './lay-by-marks';
import { PairFindings } from './pair-findings';
import { drawSeam } from './seam-lines';
import { TwoPictures } from './two-pictures';

interface Props {
  setup: SetupPage;
  first: string | null;
  second: string | null;
  onChoose: (first: string, second: string) => void;
}

/** Two takes of a setup beside each other: pictures, what lies between them, and their settings line by line. */
export function TakesCompare({ setup, first, second, onChoose }: Props) {
  const wide = useWide();
  const router = useRouter();
  const takes = setup.parts.flatMap((part) =>
    part.takes.filter((t) => t.state === 'done').map((t) => ({ ...t, partName: part.name })),
  );
  const standing = setup.gate.rows.flatMap((r) => takes.filter((t) => t.id === r.takeId));
  // The first part is the plate as a rule: a pass is held against it.
  const a = takes.find((t) => t.id === first) ?? standing[1] ?? standing[0] ?? takes[0];
  const b =
    takes.find((t) => t.id === second && t.id !== a?.id) ??
    standing.find((t) => t.id !== a?.id) ??
    takes.find((t) => t.id !== a?.id);
  const compared = useCompared(a?.id ?? null, b?.id ?? null);
  const [frame, setFrame] = useState(0);
  const where = `${setup.shoot.name} / setup ${setup.number}`;
  const gate = (
    <Action
      quiet
      label={`Gate of setup ${setup.number}`}
      onPress={() => router.push(`/setups/${setup.id}`)}
      testID="to-gate"
    />
  );
  if (!a || !b)
    return (
      <Screen where={where} title="Take against take" action={gate}>
        <Empty
          title="Two measured takes are needed"
          text="Roll another take of this setup; then both stand here beside each other."
        />
      </Screen>
    );
  const options = takes.map((t) => ({ value: t.id, label: `${t.partName} ${t.number}` }));
  const choice = (
    <View>
      <ChoiceField
        name="This take"
        value={a.id}
        options={options}
        onChange={(id) => onChoose(id, id === b.id ? a.id : b.id)}
        testID="compare-first"
      />
      <ChoiceField
        name="Against"
        value={b.id}
        options={options.filter((o) => o.value !== a.id)}
        onChange={(id) => onChoose(a.id, id)}
        testID="compare-second"
      />
    </View>
  );
  const data = compared.data;
  const passes = arePasses(setup, [a.part_id, b.part_id]);
  const found = (
    <>
      {compared.error && <Failed error={compared.error} onAgain={compared.refetch} />}
      {data && (
        <Findings
          data={data}
          passes={passes}
          delivery={{ width: setup.shoot.delivery_width, height: setup.shoot.delivery_height }}
        />
      )}
      {data && <PairFindings data={data} onFrame={setFrame} />}
      {data && <SettingsTable data={data} />}
    </>
  );
  const pictures = data && (
    <Pictures
      key={`${data.take.id}${data.against.id}`}
      data={data}
      passes={passes}
      bleed={wide ? 0 : 18}
      frame={frame}
      onFrame={setFrame}
    />
  );
  if (!wide)
    return (
      <Screen where={where} title="Take against take" action={gate}>
        {pictures}
        {choice}
        {found}
      </Screen>
    );
  return (
    <Screen where={where} title="Take against take" full>
      <View style={styles.wide}>
        <View style={styles.picture}>
          {choice}
          {pictures}
        </View>
        <View style={styles.findings}>
          {found}
          {gate}
        </View>
      </View>
    </Screen>
  );
}

interface PicturesProps {
  data: TakesCompared;
  passes: boolean;
  bleed: number;
  frame: number;
  onFrame: (frame: number) => void;
}

function Pictures({ data, passes, bleed, frame: wanted, onFrame }: PicturesProps) {
  const { take, against, comparison } = data;
  // How much later the second starts.
  const [slide, setSlide] = useState(0);
  const [own, other] = [take.frame_count ?? 1, against.frame_count ?? 1];
  const first = Math.max(0, slide);
  const count = Math.max(1, Math.min(own, other + slide));
  const frame = Math.max(first, Math.min(count - 1, wanted));
  const go = useCallback((to: number) => onFrame(Math.max(first, Math.min(count - 1, to))), [first, count, onFrame]);
  const step = useCallback((by: number) => go(frame + by), [go, frame]);
  const report = useReport(take.id, true);
  // The shorter of the two ends the axis.
  const bands = useMemo(
    () =>
      report.data
        ? takeBands(report.data)
            .filter((b) => b.name === 'light' || b.name === 'who is in')
            .map((b) => ({ ...b, values: b.values.slice(0, count) }))
        : [],
    [report.data, count],
  );
  const gap = comparison?.result;
  const straight = comparison?.take_id === take.id;
  const size = data.settings.find((s) => s.name === 'Picture')?.first.match(/(\d+) × (\d+)/);
  const [width, height] = size ? [Number(size[1]), Number(size[2])] : [16, 9];
  const pair = useFoundMeasure('pair', [take.id, against.id]).data;
  const seam = useMemo(
    () => drawSeam(pair?.result?.seam ?? null, pair?.take_id === take.id, width, height),
    [pair, take.id, width, height],
  );
  return (
    <View style={styles.stack}>
      <TwoPictures
        first={{ uri: framePicture(take.id, frame), name: `${take.part.name}, take ${take.number}` }}
        second={{ uri: framePicture(against.id, frame - slide), name: `${against.part.name}, take ${against.number}` }}
        width={width}
        height={height}
        bleed={bleed}
        onStep={step}
        layOn={straight ? (gap?.offset ?? null) : null}
        seam={seam}
        marks={gap && !passes ? { moved: gap.moved, intruders: gap.intruders, unseen: [] } : null}
      />
      <Mono>{slide === 0 ? `frame ${frame} of both` : `frame ${frame}, and ${frame - slide} of the other`}</Mono>
      <LayByMarks
        first={data.marks.take}
        second={data.marks.against}
        isLaid={(by) => by.slide === slide || by.slide >= own || by.slide <= -other}
        said={(by) => slideWords(by.slide, report.data?.media.measured_fps ?? 25)}
        onLay={(by) => {
          setSlide(by.slide);
          onFrame(by.first);
        }}
      />
      {slide !== 0 && <Action quiet label="Frame by frame, as shot" onPress={() => setSlide(0)} testID="lay-as-shot" />}
      {bands.length > 0 && <Ribbon bands={bands} frame={frame} onFrame={go} />}
    </View>
  );
}

/** Whether two parts are passes of one trick: then somebody stands in each who is not in the other. */
function arePasses(setup: SetupPage, parts: readonly string[]): boolean {
  return setup.planned.some(({ trick, parts: own }) =>
    parts.every((id) => trick.parts.some((part) => part.role === 'pass' && own[part.key] === id)),
  );
}

interface FindingsProps {
  data: TakesCompared;
  passes: boolean;
  delivery: { width: number; height: number };
}

/** What was measured between the two, judged by the usual limits. */
function Findings({ data, passes, delivery }: FindingsProps) {
  const p = usePalette();
  const c = data.comparison;
  const again = useMakeAgain();
  if (!c || c.state === 'waiting' || c.state === 'working')
    return <UnderWay work={c} what="Holding one against the other" />;
  if (c.state === 'failed' || !c.result)
    return <Failed error={new Error(c.failure ?? 'They could not be compared.')} onAgain={() => again.mutate(c.id)} />;
  const straight = c.take_id === data.take.id;
  const [one, two] = straight ? [data.take, data.against] : [data.against, data.take];
  const size = data.settings.find((s) => s.name === 'Picture')?.[straight ? 'first' : 'second'].match(/(\d+) × (\d+)/);
  const media = size ? { width: Number(size[1]), height: Number(size[2]) } : null;
  const side = (t: typeof one): PairSide => ({ id: t.id, name: t.part.name, number: t.number, media });
  const rows: [string, Finding][] = [
    ['Place', judgeSamePosition(side(one), side(two), c.result, LIMITS.plate.offset_px, delivery)],
    ['Light', judgeSameLight(side(one), side(two), c.result, LIMITS.plate.light_stops)],
  ];
  const contents = judgeContents(side(one), side(two), c.result) ?? NOTHING_MOVED;
  if (!passes) rows.push(['What stands in it', contents]);
  return (
    <View testID="takes-apart">
      {rows.map(([name, f]) => (
        <View key={name} style={[styles.finding, { borderBottomColor: p.line }]}>
          <Disc verdict={f.verdict} size={30} />
          <View style={styles.words}>
            <Strong>{name}</Strong>
            <Body>{`${f.text.charAt(0).toUpperCase()}${f.text.slice(1)}.`}</Body>
            {f.fix && <Soft>{f.fix}</Soft>}
          </View>
        </View>
      ))}
    </View>
  );
}

/** The two takes' settings line by line; what differs is marked. */
function SettingsTable({ data }: { data: TakesCompared }) {
  const p = usePalette();
  const apart = data.settings.filter((s) => s.differs).length;
  return (
    <View testID="settings-table">
      <Heading style={styles.head}>
        {apart === 0 ? 'Settings: all agree' : `Settings: ${apart} ${apart === 1 ? 'differs' : 'differ'}`}
      </Heading>
      <View style={[styles.line, { borderBottomColor: p.line }]}>
        <Mono style={styles.cell}> </Mono>
        <Mono style={styles.cell}>{`${data.take.part.name} ${data.take.number}`}</Mono>
        <Mono style={styles.cell}>{`${data.against.part.name} ${data.against.number}`}</Mono>
      </View>
      {data.settings.map((s) => (
        <View
          key={s.name}
          style={[styles.line, { borderBottomColor: p.line }, s.differs && { backgroundColor: p.card }]}
          aria-label={`${s.name}: ${s.first} against ${s.second}${s.differs ? ', differs' : ''}`}
        >
          <Soft style={styles.cell}>{s.differs ? `≠ ${s.name}` : s.name}</Soft>
          <Mono style={[styles.cell, styles.value, s.differs && { color: p.reshoot }]}>{s.first}</Mono>
          <Mono style={[styles.cell, styles.value, s.differs && { color: p.reshoot }]}>{s.second}</Mono>
        </View>
      ))}
    </View>
  );
}

const NOTHING_MOVED: Finding = {
  verdict: 'holds',
  text: 'nothing stood elsewhere in one than in the other',
  fix: null,
};

const styles = StyleSheet.create({
  stack: { gap: 10 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  picture: { flex: 6, minWidth: 0 },
  findings: { flex: 4, minWidth: 300, gap: 12 },
  finding: { flexDirection: 'row', gap: 12, paddingVertical: 10, borderBottomWidth: 1 },
  words: { flex: 1, minWidth: 0, gap: 2 },
  head: { paddingTop: 14, paddingBottom: 4 },
  line: { flexDirection: 'row', gap: 10, paddingVertical: 8, borderBottomWidth: 1 },
  cell: { flex: 1, minWidth: 0 },
  value: { fontSize: 12 },
});
