import { useCallback, useEffect, useMemo, useState } from 'react';
import {
  AccessibilityInfo,
  Pressable,
  StyleSheet,
  View,
  type GestureResponderEvent,
  type LayoutChangeEvent,
} from 'react-native';
import { Chip } from 'react-native-paper';
import Svg, { Defs, Line, Pattern, Rect } from 'react-native-svg';
import type { Box } from '../../core/report/types';
import { useWide } from '../components/screen';
import { ToolButton } from '../components/tool-button';
import { Mono } from '../components/words';
import { FONT, TOUCH } from '../theme/palette';
import { usePalette } from '../theme/theme';
import { useKeys } from '../viewer/use-keys';
import { Layers, liftWords, type LayOn, type Way } from './layers';
import { SeamLines, type DrawnSeam } from './seam-lines';

/** A picture with its name; the second is laid over the first. */
export interface NamedPicture {
  uri: string;
  name: string;
}

/** Something drawn over the pictures, in pixels of the first. */
export interface Marks {
  moved: Box[];
  intruders: Box[];
  unseen: Box[];
}

interface Props {
  first: NamedPicture;
  second: NamedPicture;
  /** Size of the pictures in their own pixels. */
  width: number;
  height: number;
  marks: Marks | null;
  /** Where the second lies against the first; offered as a switch when known. */
  layOn: LayOn | null;
  /** The line along which they can be joined; offered as a way of looking when known. */
  seam?: DrawnSeam | null;
  /** Steps to another frame of the first, by key. */
  onStep?: (by: number) => void;
  bleed: number;
}

const WAYS: [Way, string, string][] = [
  ['beside', 'Beside', 'b'],
  ['mixed', 'Mixed', 'm'],
  ['flick', 'Flick', 'f'],
  ['difference', 'Difference', 'd'],
  ['swipe', 'Swipe', 's'],
  ['joined', 'Joined', 'j'],
];
/** How two pictures that lie on each other are seen, in words. */
const HOW: Partial<Record<Way, string>> = { mixed: 'half and half', joined: 'joined along the line' };
const FLICK_MS = 500;
const MOST_LIFT = 6;
const LOUPE = 168;
const ENLARGE = 4;
/** Keys of the comparison, as they are listed in the app. */
export const COMPARE_KEYS = 'Keys: B M F D S J ways, space flicks, ↑ ↓ lift, ← → frames, O lay on, L loupe';

/** Two pictures beside each other, mixed, flicked, as their difference, or swiped; with lift, loupe and marks. */
export function TwoPictures({ first, second, width, height, marks, layOn, seam = null, onStep, bleed }: Props) {
  const p = usePalette();
  const wide = useWide();
  const [way, setWay] = useState<Way>('beside');
  const [lift, setLift] = useState(0);
  const [shown, setShown] = useState(false);
  const [held, setHeld] = useState(false);
  const [split, setSplit] = useState(0.5);
  const [laid, setLaid] = useState(false);
  const [marked, setMarked] = useState(true);
  const [loupe, setLoupe] = useState<{ x: number; y: number } | null>(null);
  const [space, setSpace] = useState(0);
  const ways = useMemo(() => WAYS.filter(([key]) => key !== 'joined' || seam), [seam]);
  const choose = useCallback(
    (next: Way) => {
      setWay(next);
      setHeld(false);
      // A difference that is not lifted is black.
      setLift((old) => (next === 'difference' ? Math.max(old, 3) : way === 'difference' ? 0 : old));
    },
    [way],
  );
  const flicking = way === 'flick' && !held;
  useEffect(() => {
    if (!flicking) return undefined;
    let timer: ReturnType<typeof setInterval> | null = null;
    let gone = false;
    // Whoever wants less motion flicks by hand.
    void AccessibilityInfo.isReduceMotionEnabled()
      .catch(() => false)
      .then((still) => {
        if (!still && !gone) timer = setInterval(() => setShown((v) => !v), FLICK_MS);
      });
    return () => {
      gone = true;
      if (timer) clearInterval(timer);
    };
  }, [flicking]);
  const more = useCallback(
    (by: number) => setLift((v) => Math.max(way === 'difference' ? 0 : -2, Math.min(MOST_LIFT, v + by))),
    [way],
  );
  useKeys(
    useCallback(
      (key: string, shift: boolean) => {
        const known = ways.find(([, , letter]) => letter === key.toLowerCase());
        if (known) choose(known[0]);
        else if (key === ' ') {
          setHeld(true);
          setShown((v) => !v);
        } else if (key === 'ArrowUp') more(1);
        else if (key === 'ArrowDown') more(-1);
        else if (key.toLowerCase() === 'o' && layOn) setLaid((v) => !v);
        else if (key.toLowerCase() === 'l') setLoupe((v) => (v ? null : { x: 0.5, y: 0.5 }));
        else if (onStep && (key === 'ArrowLeft' || key === 'ArrowRight'))
          onStep((key === 'ArrowLeft' ? -1 : 1) * (shift ? 10 : 1));
        else return false;
        return true;
      },
      [choose, more, layOn, onStep, ways],
    ),
  );

  const pictureHeight = (w: number) => (w * height) / width;
  const share = (e: GestureResponderEvent, w: number) => ({
    x: clamp(e.nativeEvent.locationX / w),
    y: clamp(e.nativeEvent.locationY / pictureHeight(w)),
  });
  const layers = (w: number, how: Exclude<Way, 'beside'>, one: string, two: string, at = split) => (
    <Layers
      way={how}
      first={one}
      second={two}
      width={w}
      height={pictureHeight(w)}
      lift={lift}
      showSecond={shown}
      split={at}
      layOn={laid ? layOn : null}
      part={seam?.second}
      sourceWidth={width}
    />
  );
  const glass = (w: number, how: Exclude<Way, 'beside'>, one: string, two: string) =>
    loupe && (
      <View
        testID="compare-loupe"
        style={[
          styles.loupe,
          {
            borderColor: p.action,
            left: clampTo(loupe.x * w - LOUPE / 2, w - LOUPE),
            top: clampTo(loupe.y * pictureHeight(w) - LOUPE / 2, pictureHeight(w) - LOUPE),
          },
        ]}
      >
        <View
          style={[
            styles.abs,
            { left: LOUPE / 2 - loupe.x * w * ENLARGE, top: LOUPE / 2 - loupe.y * pictureHeight(w) * ENLARGE },
          ]}
        >
          {layers(w * ENLARGE, how, one, two)}
        </View>
      </View>
    );
  const touch = (w: number) => ({
    onLongPress: (e: GestureResponderEvent) => setLoupe(share(e, w)),
    delayLongPress: 350,
    onPress: (e: GestureResponderEvent) => {
      if (loupe) setLoupe(share(e, w));
      else if (way === 'flick') {
        setHeld(true);
        setShown((v) => !v);
      }
    },
  });
  const beside = way === 'beside';
  const across = beside && wide && space > 760;
  const each = across ? (space - 8) / 2 : space;
  return (
    <View
      style={{ marginHorizontal: -bleed }}
      onLayout={(e: LayoutChangeEvent) => setSpace(e.nativeEvent.layout.width)}
      testID="two-pictures"
    >
      {space > 0 && beside && (
        <View style={across ? styles.row : undefined}>
          {[first, second].map((picture, i) => (
            <View key={i} style={i > 0 && !across ? styles.below : undefined}>
              <Pressable accessibilityLabel={`${picture.name}. Hold to open the loupe.`} {...touch(each)}>
                {layers(each, 'flick', picture.uri, picture.uri)}
                {marked && marks && (
                  <MarkLines
                    marks={i === 0 ? { ...marks, unseen: [] } : marks}
                    width={each}
                    height={pictureHeight(each)}
                    scale={each / width}
                  />
                )}
                {glass(each, 'flick', picture.uri, picture.uri)}
              </Pressable>
              <Mono style={[styles.name, { marginHorizontal: bleed }]}>{picture.name}</Mono>
            </View>
          ))}
        </View>
      )}
      {space > 0 && !beside && (
        <View>
          <Pressable
            accessibilityLabel={`${first.name} and ${second.name}, ${way}. Hold to open the loupe.`}
            testID={`way-${way}-picture`}
            {...touch(space)}
          >
            {layers(space, way, first.uri, second.uri)}
            {marked && seam && (way === 'mixed' || way === 'joined') && (
              <SeamLines
                seam={seam}
                room={way === 'mixed'}
                width={space}
                height={pictureHeight(space)}
                scale={space / width}
              />
            )}
            {marked && marks && (
              <MarkLines marks={marks} width={space} height={pictureHeight(space)} scale={space / width} />
            )}
            {way === 'swipe' && (
              <View style={[styles.handle, { left: split * space - 1, height: pictureHeight(space) }]} />
            )}
            {glass(space, way, first.uri, second.uri)}
          </Pressable>
          {way === 'swipe' && (
            <View
              style={[styles.rail, { backgroundColor: p.card, borderColor: p.line }]}
              testID="swipe-rail"
              role="slider"
              aria-label="Where the second picture begins"
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(split * 100)}
              onStartShouldSetResponder={() => true}
              onMoveShouldSetResponder={() => true}
              onResponderTerminationRequest={() => false}
              onResponderGrant={(e) => setSplit(clamp(e.nativeEvent.locationX / space))}
              onResponderMove={(e) => setSplit(clamp(e.nativeEvent.locationX / space))}
            >
              <View style={[styles.grip, { backgroundColor: p.ink, left: split * space - 22 }]} />
            </View>
          )}
          <Mono style={[styles.name, { marginHorizontal: bleed }]}>
            {way === 'flick'
              ? shown
                ? second.name
                : first.name
              : way === 'swipe'
                ? `left: ${first.name} · right: ${second.name}`
                : `${first.name} and ${second.name}, ${HOW[way] ?? `difference, ${liftWords(way, lift)}`}`}
          </Mono>
        </View>
      )}
      <View style={[styles.tools, !seam && styles.ways, { marginHorizontal: bleed }]}>
        {ways.map(([key, name]) => (
          <WayChip key={key} name={name} on={way === key} onPress={() => choose(key)} testID={`way-${key}`} />
        ))}
      </View>
      <View style={[styles.tools, styles.close, { marginHorizontal: bleed }]}>
        <ToolButton icon="minus" label="Lower the exposure" onPress={() => more(-1)} testID="lift-less" />
        <Mono style={styles.lift}>{`lift ${liftWords(way, lift)}`}</Mono>
        <ToolButton icon="plus" label="Lift the exposure" onPress={() => more(1)} testID="lift-more" />
        <ToolButton
          icon="magnify"
          label="Loupe"
          on={loupe !== null}
          onPress={() => setLoupe(loupe ? null : { x: 0.5, y: 0.5 })}
          testID="loupe-tool"
        />
        {(marks || seam) && (
          <ToolButton
            icon="vector-rectangle"
            label={marks ? 'Boxes and hatching' : 'The line'}
            on={marked}
            onPress={() => setMarked(!marked)}
            testID="marks-tool"
          />
        )}
        {layOn && (
          <ToolButton
            icon="layers-outline"
            label="Lay one on the other by the measured offset"
            on={laid}
            onPress={() => setLaid(!laid)}
            testID="lay-on"
          />
        )}
      </View>
      {wide && <Mono style={{ marginHorizontal: bleed }}>{COMPARE_KEYS}</Mono>}
    </View>
  );
}

function WayChip({ name, on, onPress, testID }: { name: string; on: boolean; onPress: () => void; testID: string }) {
  const p = usePalette();
  return (
    <Chip
      mode="outlined"
      selected={on}
      showSelectedCheck={false}
      onPress={onPress}
      testID={testID}
      style={[styles.chip, { backgroundColor: on ? p.action : 'transparent', borderColor: p.soft }]}
      textStyle={[styles.chipText, { color: on ? p.onAction : p.ink }]}
    >
      {name}
    </Chip>
  );
}

/** What moved and who is in as boxes, what was never seen hatched. */
function MarkLines({ marks, width, height, scale }: { marks: Marks; width: number; height: number; scale: number }) {
  const words = [
    marks.moved.length && `${marks.moved.length} moved`,
    marks.intruders.length && `${marks.intruders.length} that should not be in`,
    marks.unseen.length && `${marks.unseen.length} parts never seen`,
  ]
    .filter(Boolean)
    .join(', ');
  const place = (b: Box) => ({ x: b.x * scale, y: b.y * scale, width: b.width * scale, height: b.height * scale });
  return (
    <Svg
      width={width}
      height={height}
      style={styles.over}
      role="img"
      aria-label={words || 'nothing marked'}
      testID="marks"
    >
      <Defs>
        <Pattern id="unseen" width={9} height={9} patternUnits="userSpaceOnUse">
          <Line x1={0} y1={9} x2={9} y2={0} stroke="#FFF" strokeWidth={1.4} />
        </Pattern>
      </Defs>
      {marks.unseen.map((b, i) => (
        <Rect key={`u${i}`} {...place(b)} fill="url(#unseen)" stroke="#FFF" strokeOpacity={0.6} />
      ))}
      {marks.moved.map((b, i) => (
        <Rect key={`m${i}`} {...place(b)} fill="none" stroke="#FFD27A" strokeWidth={2} strokeDasharray="6 4" />
      ))}
      {marks.intruders.map((b, i) => (
        <Rect key={`i${i}`} {...place(b)} fill="none" stroke="#FF9A7A" strokeWidth={2.4} />
      ))}
    </Svg>
  );
}

const clamp = (v: number) => Math.max(0, Math.min(1, v));
const clampTo = (v: number, most: number) => Math.max(4, Math.min(Math.max(4, most - 4), v));

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 8 },
  below: { paddingTop: 4 },
  abs: { position: 'absolute' },
  over: { position: 'absolute', left: 0, top: 0, pointerEvents: 'none' },
  name: { paddingTop: 6 },
  tools: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', columnGap: 3, rowGap: 6, paddingTop: 8 },
  close: { columnGap: 0 },
  ways: { flexWrap: 'nowrap' },
  chip: { flexShrink: 1, minHeight: TOUCH - 4, justifyContent: 'center', borderRadius: 4 },
  chipText: {
    fontFamily: FONT.semibold,
    fontSize: 13,
    lineHeight: 20,
    marginHorizontal: 2,
    marginVertical: (TOUCH - 26) / 2,
  },
  lift: { minWidth: 88, textAlign: 'center' },
  handle: { position: 'absolute', top: 0, width: 2, backgroundColor: '#FFF', pointerEvents: 'none' },
  rail: { height: 48, borderWidth: 1, touchAction: 'none', cursor: 'ew-resize' } as object,
  grip: { position: 'absolute', top: 10, width: 44, height: 26, borderRadius: 13, pointerEvents: 'none' },
  loupe: {
    position: 'absolute',
    width: LOUPE,
    height: LOUPE,
    borderRadius: LOUPE / 2,
    borderWidth: 3,
    overflow: 'hidden',
    pointerEvents: 'none',
  },
});
