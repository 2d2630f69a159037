import { useRouter } from 'expo-router';
import { useCallback, useMemo, useRef, useState } from 'react';
import { Image, StyleSheet, useWindowDimensions, View, type ScrollView } from 'react-native';
import { openBeats, type Mark } from '../../core/plan/marks';
import type { Beat } from '../../core/report/moment-types';
import type { Box, TakeReport } from '../../core/report/types';
import type { TakePage } from '../../api/takes';
import { Action } from '../components/action';
import { Screen, useWide } from '../components/screen';
import { ToolButton } from '../components/tool-button';
import { Mono } from '../components/words';
import { useUndo } from '../components/undo';
import { useMarks } from '../data/mark-hooks';
import { useFoundMeasure, useMeasure } from '../data/measure-hooks';
import { ChoiceField } from '../forms/fields';
import { FramePicture } from '../viewer/frame-picture';
import { Ribbon } from '../viewer/ribbon';
import { useKeys } from '../viewer/use-keys';
import { BeatBox } from './beat-box';
import { FigureFacts, LostOutline } from './figure-facts';
import { FoundList } from './found-list';
import { FrameStrip } from './frame-strip';
import { MarkList, useHeldMark } from './mark-list';
import { beatName, keptBeat, momentBand, nextMoment, ownMark, secondsOf } from './moment-words';
import { stillAddress, StillList } from './still-list';

const SEEN = [
  { value: 'take', label: 'As shot' },
  { value: 'cutout', label: 'Cut out over the plate' },
] as const;
/** Keys of the bench of moments, as they are listed in the app. */
export const MOMENT_KEYS =
  'Keys: arrows frames (Shift 10), up and down next moment, B mark this frame, + and − move the held mark, N name it, X delete it';

interface Props {
  take: TakePage;
  report: TakeReport;
  startFrame: number | null;
}

/** The frames of one take that count: what was found on them, what somebody keeps of them, and which can be held. */
export function MomentsBench({ take, report, startFrame }: Props) {
  const router = useRouter();
  const wide = useWide();
  const screen = useWindowDimensions();
  const undo = useUndo();
  const scroll = useRef<ScrollView>(null);
  const { media } = report;
  const fps = media.measured_fps,
    count = media.frame_count;
  const { marks, plate } = take;
  const does = useMarks(take.id);
  const { held, setHeld, naming, setNaming } = useHeldMark();
  const ids = useMemo(() => [take.id], [take.id]);
  const beats = useMeasure('beats', ids).data ?? null,
    stills = useMeasure('stills', ids).data ?? null,
    figure = useFoundMeasure('figure', ids).data ?? null;
  const open = useMemo(() => openBeats(beats?.result?.beats ?? [], marks), [beats, marks]);
  const strongest = useMemo(() => [...open].sort((a, b) => b.strength - a.strength)[0], [open]);
  const [chosen, setChosen] = useState<number | null>(startFrame);
  const frame = Math.min(count - 1, chosen ?? marks[0]?.frame ?? strongest?.frame ?? 0);
  const [near, setNear] = useState<Beat | null>(null);
  const [seen, setSeen] = useState<(typeof SEEN)[number]['value']>('take');
  const go = useCallback((f: number) => setChosen(Math.max(0, Math.min(count - 1, f))), [count]);
  // A frame asked for from a list is shown: on a phone the picture may be scrolled away.
  const show = useCallback(
    (f: number) => {
      go(f);
      if (!wide) scroll.current?.scrollTo({ y: 0, animated: false });
    },
    [go, wide],
  );

  const marked = marks.find((m) => m.frame === frame) ?? null;
  const offered = open.find((b) => b.frame === frame && b === near) ?? open.find((b) => b.frame === frame) ?? null;
  const keep = (beat: Beat) => {
    show(beat.frame);
    does.add.mutate(keptBeat(beat, marks), { onSuccess: (m) => setHeld(m.id) });
  };
  const markHere = () => {
    if (does.add.isPending) return;
    if (offered) keep(offered);
    else if (!marked) does.add.mutate(ownMark(frame, marks), { onSuccess: (m) => setHeld(m.id) });
  };
  const remove = (mark: Mark) => {
    does.remove.mutate({ mark, on: true });
    undo({ text: `${mark.name} deleted.`, undo: () => does.remove.mutate({ mark, on: false }) });
  };
  const moments = useMemo(() => [...marks.map((m) => m.frame), ...open.map((b) => b.frame)], [marks, open]);
  const toMoment = (way: 1 | -1) => {
    const next = nextMoment(moments, frame, way);
    if (next === null) return;
    go(next);
    setHeld(marks.find((m) => m.frame === next)?.id ?? null);
  };
  const one = marks.find((m) => m.id === held) ?? marked;
  useKeys((key, shift) => {
    const by = shift ? 10 : 1;
    if (key === 'ArrowLeft' || key === 'ArrowRight') go(frame + (key === 'ArrowLeft' ? -by : by));
    else if (key === 'ArrowUp' || key === 'ArrowDown') toMoment(key === 'ArrowUp' ? -1 : 1);
    else if (key === 'Home' || key === 'End') go(key === 'Home' ? 0 : count - 1);
    else if (key.toLowerCase() === 'b') markHere();
    else if (one && (key === '+' || key === '-')) {
      const to = Math.max(0, Math.min(count - 1, one.frame + (key === '+' ? 1 : -1)));
      setHeld(one.id);
      go(to);
      does.change.mutate({ id: one.id, frame: to });
    } else if (one && key.toLowerCase() === 'n') setNaming(one.id);
    else if (one && key.toLowerCase() === 'x') remove(one);
    else return false;
    return true;
  });

  const still = stills?.result?.stills.find((s) => s.frame === frame);
  const overPlate = still !== undefined && plate !== null && seen === 'cutout';
  const bands = useMemo(() => [momentBand(report, marks, open)], [report, marks, open]);
  const lost = figure?.result?.outline.find((o) => o.frame === frame);
  const boxed = near && near.frame === frame && near.width !== null ? near : offered;
  const picture = (
    <View style={styles.stack}>
      <View style={{ marginHorizontal: wide ? 0 : -18 }}>
        <FramePicture
          takeId={overPlate ? plate.take_id : take.id}
          frame={overPlate ? plate.frame : frame}
          frameCount={count}
          width={media.width}
          height={media.height}
          maxHeight={wide ? screen.height - 380 : undefined}
          loupe={false}
          onLoupe={() => undefined}
          over={(w, h) =>
            overPlate ? (
              <Image
                source={{ uri: stillAddress(take.id, frame, 'cutout') }}
                style={{ position: 'absolute', width: w, height: h }}
                accessibilityLabel={`Frame ${frame} cut out`}
                testID="cutout"
              />
            ) : (
              <>
                {boxed && <BeatBox beat={boxed} width={w} height={h} sourceWidth={media.width} />}
                {lost && <LostOutline read={lost} width={w} sourceWidth={media.width} />}
              </>
            )
          }
        />
      </View>
      <View style={styles.line} testID="moment-at">
        <Mono>{`frame ${frame} of ${count - 1} · ${secondsOf(frame, fps)}`}</Mono>
        <Mono style={styles.end} lines={1}>
          {marked ? marked.name : offered ? `${beatName(offered).toLowerCase()} found` : ''}
        </Mono>
      </View>
      <FrameStrip
        takeId={take.id}
        frame={frame}
        frameCount={count}
        width={media.width}
        height={media.height}
        onFrame={go}
        part={boxNear(beats?.result?.beats ?? [], frame, near)}
      />
      <Ribbon bands={bands} frame={frame} onFrame={go} />
      <View style={styles.tools}>
        <ToolButton icon="skip-previous" label="Moment before" onPress={() => toMoment(-1)} testID="moment-before" />
        <ToolButton icon="chevron-double-left" label="Ten frames back" onPress={() => go(frame - 10)} />
        <ToolButton icon="chevron-left" label="One frame back" onPress={() => go(frame - 1)} testID="step-back" />
        <View style={styles.gap} />
        <ToolButton icon="chevron-right" label="One frame on" onPress={() => go(frame + 1)} testID="step-on" />
        <ToolButton icon="chevron-double-right" label="Ten frames on" onPress={() => go(frame + 10)} />
        <ToolButton icon="skip-next" label="Moment after" onPress={() => toMoment(1)} testID="moment-after" />
      </View>
      {still && plate && <ChoiceField name="Seen" value={seen} onChange={setSeen} options={SEEN} testID="still-seen" />}
      {wide && <Mono>{MOMENT_KEYS}</Mono>}
    </View>
  );
  const lists = (
    <View style={styles.lists}>
      <MarkList
        takeId={take.id}
        marks={marks}
        does={does}
        fps={fps}
        frameCount={count}
        held={held}
        onHold={setHeld}
        onFrame={show}
        naming={naming}
        onNaming={setNaming}
        onRemove={remove}
      />
      <FoundList beats={beats} open={open} onFrame={show} onKeep={keep} onNear={setNear} />
      <FigureFacts figure={figure} onFrame={show} />
      <StillList
        {...{ stills, frame }}
        takeId={take.id}
        shape={media.width / media.height}
        delivery={{ width: take.shoot.delivery_width, height: take.shoot.delivery_height }}
        onFrame={show}
      />
    </View>
  );
  const label = offered
    ? `Keep ${beatName(offered).toLowerCase()}, frame ${frame}`
    : marked
      ? `Marked: ${marked.name}`
      : `Mark frame ${frame}`;
  const action = (
    <View style={styles.actions}>
      <Action
        quiet
        label="Gate"
        onPress={() => router.push(`/setups/${take.setup.id}`)}
        style={styles.gate}
        testID="to-gate"
      />
      <View style={styles.main}>
        <Action
          label={label}
          disabled={does.add.isPending || (!offered && marked !== null)}
          onPress={markHere}
          testID="mark-here"
        />
      </View>
    </View>
  );
  const where = `${take.shoot.name} / setup ${take.setup.number}`;
  const title = `Moments of ${take.part.name}, take ${take.number}`;
  if (!wide)
    return (
      <Screen where={where} title={title} action={action} scroll={scroll}>
        {picture}
        {lists}
      </Screen>
    );
  return (
    <Screen where={where} title={title} full>
      <View style={styles.wide}>
        <View style={styles.picture}>{picture}</View>
        <View style={styles.side}>
          {action}
          {lists}
        </View>
      </View>
    </Screen>
  );
}

/** Where something happens on a frame or near it: of the beat that is looked at, else of the nearest that has a place. */
function boxNear(beats: readonly Beat[], frame: number, near: Beat | null): Box | null {
  const placed = beats.filter((b) => b.width !== null && Math.abs(b.frame - frame) <= NEAR);
  const own = near && Math.abs(near.frame - frame) <= NEAR && near.width !== null ? near : null;
  const found = own ?? placed.sort((a, b) => Math.abs(a.frame - frame) - Math.abs(b.frame - frame))[0];
  return found ? (found as Box) : null;
}

/** So many frames beside a beat its place is still the one to look at. */
const NEAR = 3;

const styles = StyleSheet.create({
  stack: { gap: 8 },
  line: { flexDirection: 'row', justifyContent: 'space-between', gap: 12 },
  end: { flexShrink: 1, textAlign: 'right' },
  tools: { flexDirection: 'row', alignItems: 'center' },
  gap: { flex: 1 },
  lists: { gap: 22, paddingTop: 14 },
  wide: { flexDirection: 'row', gap: 24, alignItems: 'flex-start' },
  picture: { flex: 60, minWidth: 0 },
  side: { flex: 40, minWidth: 320 },
  actions: { flexDirection: 'row', gap: 10 },
  gate: { width: 96 },
  main: { flex: 1 },
});
