import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import type { ZoneOfTrick, ZonePage } from '../../api/passes';
import { NoShape } from '../../core/formats/shapes-in';
import { worstOf } from '../../core/judge/verdicts';
import type { Zone } from '../../core/tricks/zones';
import { Action } from '../components/action';
import { Disc } from '../components/disc';
import { Cautions } from '../components/notice';
import { Screen, useWide } from '../components/screen';
import { Empty, Failed } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { UnderWay } from '../components/under-way';
import { useUndo } from '../components/undo';
import { Body, Heading, Mono, Soft } from '../components/words';
import { useMakeAgain } from '../data/measure-hooks';
import { useKeepZone } from '../data/pass-hooks';
import { ChoiceField, FieldGrid, NumberField } from '../forms/fields';
import { SlideField } from '../forms/slide-field';
import { usePalette } from '../theme/theme';
import { Ribbon, type Band } from '../viewer/ribbon';
import { ShapeFile } from './shape-file';
import { boxBetween, outlined } from './zone-by-hand';
import { ZoneDrawing, type ZoneShape } from './zone-drawing';

const SHAPES = [
  { value: 'outline', label: 'Outline' },
  { value: 'box', label: 'Box' },
] as const;

/** The zone of a trick: drawn once on a frame, judged in every take that it speaks of. */
export function ZoneScreen({ page, planned }: { page: ZonePage; planned: string | null }) {
  const router = useRouter();
  const where = `${page.shoot.name} / setup ${page.setup.number}`;
  const [chosen, setChosen] = useState(planned);
  const trick = page.tricks.find((t) => t.id === chosen) ?? page.tricks[0];
  // Kept here: the drawing is made anew as soon as anybody hears of another zone, and would not learn that it is kept.
  const keep = useKeepZone();
  const undo = useUndo();
  const gate = <Action quiet label="Gate" onPress={() => router.push(`/setups/${page.setup.id}`)} testID="to-gate" />;
  if (!trick)
    return (
      <Screen where={where} title="Zone" action={gate}>
        <Empty
          title="No trick here speaks of a zone"
          text="Add the requirement “zone kept free” to a trick of this setup; then its zone is drawn here."
        />
      </Screen>
    );
  if (page.takes.length === 0)
    return (
      <Screen where={where} title="Zone" action={gate}>
        <Empty title="No measured take yet" text="Roll a take of this setup: the zone is drawn on one of its frames." />
      </Screen>
    );
  return (
    <Drawing
      key={trick.id}
      page={page}
      trick={trick}
      where={where}
      onTrick={setChosen}
      keeping={keep.isPending}
      failed={keep.error}
      onZone={(zone, kept) =>
        keep.mutate(
          { id: trick.id, zone, seen: trick.version },
          {
            onSuccess: ({ version: seen }) => {
              kept();
              if (zone === null)
                undo({ text: 'Zone removed.', undo: () => keep.mutate({ id: trick.id, zone: trick.zone, seen }) });
            },
          },
        )
      }
      onGate={() => router.push(`/setups/${page.setup.id}`)}
    />
  );
}

interface DrawingProps {
  page: ZonePage;
  trick: ZoneOfTrick;
  where: string;
  onTrick: (id: string) => void;
  /** Whether a zone is being kept, or forgotten. */
  keeping: boolean;
  failed: Error | null;
  onZone: (zone: Zone | null, kept: () => void) => void;
  onGate: () => void;
}

function Drawing({ page, trick, where, onTrick, keeping, failed, onZone, onGate }: DrawingProps) {
  const wide = useWide();
  const bleed = wide ? 0 : 18;
  // The empty picture shows an opening's edge best.
  const [takeId, setTakeId] = useState(
    (page.takes.find((t) => t.plate) ?? trick.takes.find((t) => t.circled) ?? trick.takes[0] ?? page.takes[0]).id,
  );
  const take = page.takes.find((t) => t.id === takeId) ?? page.takes[0];
  const [at, setAt] = useState(0);
  const frame = Math.min(at, take.frame_count - 1);
  const [lift, setLift] = useState(0);
  const [shape, setShape] = useState<ZoneShape>('outline');
  const [own, setOwn] = useState<Zone | null>(null);
  /** The zone that was kept when one's own was begun. */
  const [begunOn, setBegunOn] = useState<string | null>(null);
  const draw = (z: Zone) => {
    if (own === null) setBegunOn(JSON.stringify(trick.zone));
    setOwn(z);
  };
  const again = own !== null && begunOn !== JSON.stringify(trick.zone);
  const zone = own ?? trick.zone;
  const show = (id: string, f: number) => {
    setTakeId(id);
    setAt(f);
  };
  const seen = trick.takes.find((t) => t.id === take.id)?.zone?.result ?? null;
  const go = (f: number) => setAt(Math.max(0, Math.min(take.frame_count - 1, f)));
  const picture = (
    <View style={styles.stack}>
      {page.tricks.length > 1 && (
        <ChoiceField
          name="Zone of"
          value={trick.id}
          onChange={onTrick}
          options={page.tricks.map((t) => ({ value: t.id, label: t.name }))}
          testID="zone-trick"
        />
      )}
      {again && (
        <Cautions texts={['Somebody else has drawn another zone since you began. Keep theirs, or yours over it.']} />
      )}
      <Body>
        {zone
          ? own
            ? 'Keep it when it lies where it should; or draw it again.'
            : 'Draw round it again to change it.'
          : 'Draw round the zone with a finger: where the other will stand, what fades, the window or doorway, where light may fall.'}
      </Body>
      <View style={{ marginHorizontal: -bleed }}>
        <ZoneDrawing
          takeId={take.id}
          frame={frame}
          width={take.width}
          height={take.height}
          lift={lift}
          shape={shape}
          zone={zone}
          onZone={draw}
        />
      </View>
      <View style={styles.tools}>
        <ToolButton icon="chevron-left" label="One frame back" onPress={() => go(frame - 1)} testID="zone-back" />
        <Mono>{`${take.label}, frame ${frame}`}</Mono>
        <ToolButton icon="chevron-right" label="One frame on" onPress={() => go(frame + 1)} testID="zone-on" />
      </View>
      {seen && !own && <Ribbon bands={[shareBand(seen.path.share)]} frame={frame} onFrame={go} />}
      <SlideField
        label="Exposure lifted"
        said={`${lift > 0 ? '+' : ''}${lift} stop`}
        value={lift}
        least={-2}
        most={6}
        step={1}
        onChange={setLift}
        testID="zone-lift"
      />
      <ChoiceField name="Drawn as" value={shape} onChange={setShape} options={SHAPES} testID="zone-shape" />
      {shape === 'box' && <BoxFields zone={zone} width={take.width} height={take.height} onZone={draw} />}
      <ChoiceField
        name="Drawn on"
        value={take.id}
        onChange={(id) => show(id, 0)}
        options={page.takes.map((t) => ({ value: t.id, label: t.label }))}
        testID="zone-take"
      />
      <ShapeFile
        label="Take an outline in, as SVG"
        size={take}
        onPoints={(points) => {
          const drawn = points.map(([x, y]): [number, number] => [x / take.width, y / take.height]);
          const zone = outlined(drawn);
          if (!zone) throw new NoShape('The outline goes round nothing. Draw one with three corners at least.');
          draw(zone);
        }}
        testID="zone-in"
      />
      {trick.zone && !own && (
        <Action
          quiet
          icon="trash-can-outline"
          label="Remove the zone"
          onPress={() => onZone(null, () => undefined)}
          testID="zone-remove"
        />
      )}
    </View>
  );
  const action = (
    <View style={styles.row}>
      <Action
        quiet
        label={again ? 'Keep theirs' : own ? 'Undo' : 'Gate'}
        onPress={own ? () => setOwn(null) : onGate}
        style={styles.gate}
      />
      <View style={styles.main}>
        <Action
          label={
            keeping
              ? 'Keeping it'
              : again
                ? 'Keep mine over it'
                : own || !trick.zone
                  ? 'Keep this zone'
                  : 'The zone is kept'
          }
          disabled={!own || keeping}
          onPress={() => own && onZone(own, () => setOwn(null))}
          testID="zone-keep"
        />
      </View>
    </View>
  );
  const findings = (
    <View style={styles.stack} testID="zone-takes">
      {failed && <Failed error={failed} />}
      <Heading>{trick.zone ? 'Seen in every take' : 'What is asked'}</Heading>
      {trick.asks.map((a) => (
        <Soft key={a}>{`${a.charAt(0).toUpperCase()}${a.slice(1)}.`}</Soft>
      ))}
      {trick.zone && trick.takes.map((t) => <TakeLine key={t.id} take={t} onFrame={(f) => show(t.id, f)} />)}
      {trick.takes.length === 0 && <Body>None of the takes that it speaks of is rolled yet.</Body>}
    </View>
  );
  if (!wide)
    return (
      <Screen where={where} title="Zone" action={action}>
        {picture}
        <View style={styles.below}>{findings}</View>
      </Screen>
    );
  return (
    <Screen where={where} title="Zone" full>
      <View style={styles.wide}>
        <View style={styles.picture}>{picture}</View>
        <View style={styles.side}>
          {action}
          {findings}
        </View>
      </View>
    </Screen>
  );
}

/** What was seen of the zone in one take. */
function TakeLine({ take, onFrame }: { take: ZoneOfTrick['takes'][number]; onFrame: (frame: number) => void }) {
  const p = usePalette();
  const again = useMakeAgain();
  const { zone, watched } = take;
  const worst = worstOf(take.said);
  if (watched ? !zone || zone.state === 'waiting' || zone.state === 'working' : !worst)
    return <UnderWay work={zone} what={`Watching it in ${take.label}`} />;
  if (!worst || (watched && !zone?.result))
    return (
      <Failed
        error={new Error(zone?.failure ?? 'It could not be watched.')}
        onAgain={() => zone && again.mutate(zone.id)}
      />
    );
  const { at } = take;
  const edge = zone?.result?.edge;
  return (
    <View style={[styles.take, { borderTopColor: p.line }]} testID={`zone-of-${take.label}`}>
      <Disc verdict={worst.verdict} size={30} />
      <View style={styles.words}>
        {take.said.map((s) => (
          <Body key={s.text}>{`${s.text}.`}</Body>
        ))}
        {worst.fix && <Soft>{worst.fix}</Soft>}
        {edge && (
          <Soft>
            {edge.lift_stops > 0
              ? `Its edge can be followed along ${Math.round(100 * edge.readable_share)} % of its length; ` +
                `lit ${edge.lift_stops.toFixed(1)} stops more, along most of it.`
              : 'Its edge can be followed all along.'}
          </Soft>
        )}
        {at !== null && <Action quiet label={`Show frame ${at}`} onPress={() => onFrame(at)} style={styles.show} />}
      </View>
    </View>
  );
}

interface BoxProps {
  zone: Zone | null;
  width: number;
  height: number;
  onZone: (zone: Zone) => void;
}

/** A box in numbers, for whoever does not draw. */
function BoxFields({ zone, width, height, onZone }: BoxProps) {
  const xs = zone?.map(([x]) => x) ?? [0.4, 0.6],
    ys = zone?.map(([, y]) => y) ?? [0.3, 0.7];
  const box = { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
  const set = (more: Partial<typeof box>) => {
    const b = { ...box, ...more };
    const made = boxBetween([b.left, b.top], [b.right, b.bottom]);
    if (made) onZone(made);
  };
  const field = (name: keyof typeof box, label: string, most: number) => (
    <NumberField
      key={name}
      label={label}
      unit="px"
      value={Math.round(box[name] * most)}
      least={0}
      most={most}
      onChange={(v) => v !== null && set({ [name]: v / most })}
      testID={`zone-${name}`}
    />
  );
  return (
    <FieldGrid>
      {field('left', 'Left', width)}
      {field('right', 'Right', width)}
      {field('top', 'Top', height)}
      {field('bottom', 'Bottom', height)}
    </FieldGrid>
  );
}

function shareBand(share: readonly (number | null)[]): Band {
  const most = share.reduce<number>((m, s) => Math.max(m, s ?? 0), 0);
  return {
    name: 'of it taken',
    unit: '%',
    values: share.map((s) => (s === null ? null : 100 * s)),
    limit: null,
    least: 10,
    faults: [],
    sentence: most > 0 ? `At most ${(100 * most).toFixed(0)} per cent of it are taken.` : 'Nobody is in it.',
  };
}

const styles = StyleSheet.create({
  stack: { gap: 10 },
  tools: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between' },
  row: { flexDirection: 'row', gap: 10 },
  gate: { width: 96 },
  main: { flex: 1 },
  below: { paddingTop: 18 },
  take: { flexDirection: 'row', gap: 12, paddingVertical: 12, borderTopWidth: 1 },
  words: { flex: 1, minWidth: 0, gap: 4 },
  show: { alignSelf: 'flex-start', marginTop: 4 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  picture: { flex: 62, minWidth: 0 },
  side: { flex: 38, minWidth: 300, gap: 16 },
});
