import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import {
  edgesToSet,
  keysOfEdge,
  liesAcross,
  lineAt,
  nextToSet,
  type HandCover,
  type HandEdgeName,
  type HandKey,
} from '../../core/measures/cover/by-hand';
import type { CoverMeasure } from '../../core/report/wipe-types';
import { Action } from '../components/action';
import { Failed } from '../components/states';
import { ToolButton } from '../components/tool-button';
import { Body, Heading, Mono, Soft } from '../components/words';
import type { Cover, WipeSide } from '../../api/wipes';
import { useAsk } from '../data/measure-hooks';
import { ChoiceField } from '../forms/fields';
import { useKeys } from '../viewer/use-keys';
import { EdgeLine, moved, type EdgeLineAt, type Grip } from './edge-line';

const NAMES: Record<HandEdgeName, string> = {
  lead: 'leading edge',
  trail: 'trailing edge',
  left: 'left side',
  right: 'right side',
  top: 'upper side',
  bottom: 'lower side',
};
const KINDS = [
  { value: 'passing', label: 'It passes' },
  { value: 'panning', label: 'Camera pans past' },
  { value: 'approaching', label: 'Camera walks up' },
  { value: 'closing', label: 'It closes' },
] as const;
const WAYS = [
  { value: '0', label: 'To the right' },
  { value: '180', label: 'To the left' },
  { value: '90', label: 'Down' },
  { value: '270', label: 'Up' },
] as const;
/** A hand sets an edge to about so many pixels at delivery: nearer to straight than that is straight. */
const STRAIGHT_PX = 3;
export const HAND_KEYS =
  'Keys: arrows move the edge 1 px (Shift 10), 1 2 3 what is held, Enter sets it, , and . frames';

type Ends = Partial<Record<HandEdgeName, { start: number; end: number }>>;

interface Props {
  side: WipeSide;
  cover: Cover | null;
  delivery: { width: number; height: number };
  wide: boolean;
  bleed: number;
  onDone: () => void;
}

/** Edges set by hand on the few frames that halving asks for; the rest is filled in between and found in the picture near there. */
export function HandEdges({ side, cover, delivery, wide, bleed, onDone }: Props) {
  const keep = useAsk('cover', ['wipes', 'setups']);
  const measure = cover?.result ?? null;
  const [kind, setKind] = useState<HandCover['kind']>(cover?.wish.hand?.kind ?? measure?.kind ?? 'passing');
  const [way, setWay] = useState<HandCover['way']>(
    cover?.wish.hand?.way ?? (((Math.round((measure?.direction_deg ?? 0) / 90) * 90) % 360) as HandCover['way']),
  );
  const [keys, setKeys] = useState<HandKey[]>(cover?.wish.hand?.keys ?? []);
  const [ends, setEnds] = useState<Ends>({});
  const [picked, setPicked] = useState<{ edge: HandEdgeName; frame: number } | null>(null);
  const [draft, setDraft] = useState<{ edge: HandEdgeName; frame: number; line: EdgeLineAt } | null>(null);
  const [grip, setGrip] = useState<Grip>('both');
  const edges = edgesToSet(kind);
  const endsOf = (edge: HandEdgeName) => ends[edge] ?? usualEnds(edge, measure, side.frame_count);
  const within = (edge: HandEdgeName) => STRAIGHT_PX / (liesAcross(edge, way) ? delivery.width : delivery.height);
  const asked =
    edges.flatMap((edge) => {
      const next = nextToSet(keysOfEdge(keys, edge), endsOf(edge), within(edge));
      return next === null ? [] : [{ edge, frame: next }];
    })[0] ?? null;
  const now = picked ?? asked ?? { edge: edges[edges.length - 1], frame: endsOf(edges[edges.length - 1]).end };
  const own = keysOfEdge(keys, now.edge);
  const across = liesAcross(now.edge, way);
  const line =
    draft && draft.edge === now.edge && draft.frame === now.frame
      ? draft.line
      : startLine(own, now, cover, across ? side.width : side.height, measure);
  const setLine = (next: EdgeLineAt) => setDraft({ ...now, line: next });
  const go = (frame: number) =>
    setPicked({ edge: now.edge, frame: Math.max(0, Math.min(side.frame_count - 1, frame)) });
  const put = () => {
    setKeys([...keys.filter((k) => !(k.edge === now.edge && k.frame === now.frame)), { ...now, ...line }]);
    setDraft(null);
    setPicked(null);
  };
  const nudge = (by: number) => setLine(moved(line, grip, by / (across ? side.width : side.height)));
  useKeys((key, shift) => {
    const step = shift ? 10 : 1;
    if (key === (across ? 'ArrowLeft' : 'ArrowUp')) nudge(-step);
    else if (key === (across ? 'ArrowRight' : 'ArrowDown')) nudge(step);
    else if (key === 'Enter') put();
    else if (key === ',') go(now.frame - 1);
    else if (key === '.') go(now.frame + 1);
    else if (key === '1' || key === '2' || key === '3') setGrip((['from', 'both', 'to'] as const)[Number(key) - 1]);
    else return false;
    return true;
  });
  const isSet = own.some((k) => k.frame === now.frame);
  const enough = edges.some((edge) => keysOfEdge(keys, edge).length >= 2);
  const send = (hand: HandCover | null) => keep.mutate({ takes: [side.id], wish: { hand } }, { onSuccess: onDone });
  return (
    <View style={styles.stack} testID="hand-edges">
      <View>
        <Heading>
          {asked || picked ? `Frame ${now.frame}: set the ${NAMES[now.edge]}` : 'All that is needed is set'}
        </Heading>
        <Mono>
          {`${[
            KINDS.find((k) => k.value === kind)!.label,
            ...(kind === 'approaching' ? [] : [WAYS.find((w) => w.value === String(way))!.label]),
          ]
            .join(', ')
            .toLowerCase()}; change that below`}
        </Mono>
        <Body>
          {asked || picked
            ? `Drag the line onto the edge; tap brings it to your finger. ${endWords(now, endsOf(now.edge))}`
            : 'The rest is filled in between, and found in the picture near there.'}
        </Body>
      </View>
      <View style={{ marginHorizontal: -bleed }}>
        <EdgeLine
          takeId={side.id}
          frame={now.frame}
          width={side.width}
          height={side.height}
          across={across}
          line={line}
          grip={grip}
          onLine={setLine}
          onGrip={setGrip}
        />
      </View>
      <View style={styles.tools}>
        <ToolButton icon="chevron-left" label="One frame back" onPress={() => go(now.frame - 1)} testID="hand-back" />
        <Mono style={styles.frame}>{`frame ${now.frame}${isSet ? ', set' : ''}`}</Mono>
        <ToolButton icon="chevron-right" label="One frame on" onPress={() => go(now.frame + 1)} testID="hand-on" />
        <View style={styles.gap} />
        <ToolButton
          icon={across ? 'arrow-left' : 'arrow-up'}
          label="Move the edge by one pixel back"
          onPress={() => nudge(-1)}
          testID="nudge-back"
        />
        <ToolButton
          icon={across ? 'arrow-right' : 'arrow-down'}
          label="Move the edge by one pixel on"
          onPress={() => nudge(1)}
          testID="nudge-on"
        />
      </View>
      <Action label={`Set it in frame ${now.frame}`} quiet={!asked && !picked} onPress={put} testID="set-edge" />
      {asked && (
        <View style={styles.row}>
          <Action
            quiet
            label="It comes in here"
            style={styles.half}
            onPress={() =>
              setEnds({
                ...ends,
                [now.edge]: { ...endsOf(now.edge), start: Math.min(now.frame, endsOf(now.edge).end - 1) },
              })
            }
            testID="end-start"
          />
          <Action
            quiet
            label="Last seen here"
            style={styles.half}
            onPress={() =>
              setEnds({
                ...ends,
                [now.edge]: { ...endsOf(now.edge), end: Math.max(now.frame, endsOf(now.edge).start + 1) },
              })
            }
            testID="end-end"
          />
        </View>
      )}
      <View testID="hand-count">
        <Mono>
          {edges
            .map(
              (edge) =>
                `${NAMES[edge]}: ${
                  keysOfEdge(keys, edge)
                    .map((k) => k.frame)
                    .join(', ') || 'none'
                }`,
            )
            .join('; ')}
        </Mono>
      </View>
      <Action
        label={asked && enough ? 'Measure with what is set' : 'Measure with these edges'}
        quiet={Boolean(asked)}
        disabled={!enough || keep.isPending}
        onPress={() => send({ kind, way, keys })}
        testID="measure-by-hand"
      />
      {keep.error && <Failed error={keep.error} />}
      <ChoiceField
        name="What covers the picture"
        value={kind}
        onChange={(k) => {
          setKind(k);
          setPicked(null);
        }}
        options={KINDS}
        testID="hand-kind"
      />
      {kind !== 'approaching' && (
        <ChoiceField
          name="Its edge goes"
          value={String(way) as (typeof WAYS)[number]['value']}
          onChange={(v) => setWay(Number(v) as HandCover['way'])}
          options={WAYS}
          testID="hand-way"
        />
      )}
      <View style={styles.row}>
        {keys.length > 0 && (
          <Action
            quiet
            label="Start over"
            style={styles.half}
            onPress={() => {
              setKeys([]);
              setPicked(null);
              setDraft(null);
            }}
            testID="hand-clear"
          />
        )}
        {cover?.wish.hand && (
          <Action
            quiet
            label="Use the measured edges"
            style={styles.half}
            onPress={() => send(null)}
            testID="hand-none"
          />
        )}
      </View>
      {wide ? (
        <Mono>{HAND_KEYS}</Mono>
      ) : (
        <Soft>Upper third: first end. Middle: the whole line. Lower third: second end.</Soft>
      )}
    </View>
  );
}

function endWords(
  { edge, frame }: { edge: HandEdgeName; frame: number },
  ends: { start: number; end: number },
): string {
  if (frame === ends.start)
    return `It should come in here: step to the frame in which the ${NAMES[edge]} is first seen.`;
  return frame === ends.end ? `It should be last seen here: step to the last frame that shows the ${NAMES[edge]}.` : '';
}

/** Where an edge is likely to come in and go out. */
function usualEnds(edge: HandEdgeName, m: CoverMeasure | null, count: number): { start: number; end: number } {
  const part = (share: number) => Math.round(share * (count - 1));
  const trusted = m && m.peak_frame !== null && m.peak_cover_share > 0.35;
  const early = trusted
    ? { start: m.enter_frame ?? 0, end: Math.max(1, (m.first_full_frame ?? m.peak_frame!) - 1) }
    : { start: part(0.15), end: part(0.45) };
  const late = trusted
    ? { start: Math.min(count - 2, (m.last_full_frame ?? m.peak_frame!) + 1), end: m.leave_frame ?? count - 1 }
    : { start: part(0.55), end: part(0.85) };
  const found = edge === 'trail' ? late : early;
  return found.end > found.start
    ? found
    : { start: Math.max(0, Math.min(found.start, count - 2)), end: Math.min(count - 1, found.start + 1) };
}

/** Where the line is shown at first: where it is set, else where straight lines or the measures put it. */
function startLine(
  own: HandKey[],
  { edge, frame }: { edge: HandEdgeName; frame: number },
  cover: Cover | null,
  long: number,
  m: CoverMeasure | null,
): EdgeLineAt {
  if (own.length > 1 || own[0]?.frame === frame) return lineAt(own, frame)!;
  const lines = edge === 'lead' || edge === 'trail' ? cover?.result?.edges?.[edge] : undefined;
  const known = lines?.flatMap((l) => (l[frame] === null || l[frame] === undefined ? [] : [l[frame]! / long])) ?? [];
  const [a, b, c] = lines?.map((l) => l[frame] ?? null) ?? [null, null, null];
  if (a !== null && c !== null) return { from: (a - (c - a) / 2) / long, to: (c + (c - a) / 2) / long };
  if (known.length > 0 && m && m.sure_share > 0.5) return { from: known[0], to: known[0] };
  return own[0]
    ? { from: own[0].from, to: own[0].to }
    : { from: b === null ? 0.5 : b / long, to: b === null ? 0.5 : b / long };
}

const styles = StyleSheet.create({
  stack: { gap: 10 },
  tools: { flexDirection: 'row', alignItems: 'center' },
  frame: { minWidth: 92, textAlign: 'center' },
  gap: { flex: 1 },
  row: { flexDirection: 'row', gap: 8 },
  half: { flex: 1 },
});
