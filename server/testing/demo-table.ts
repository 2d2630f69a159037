import { measuresOf } from '../../core/take/analysis';
import { againstOf } from '../../media/ffmpeg/file-source';
import { coverOf, openTake } from '../../media/feeds/measure-take';
import { askedOfPart } from '../../core/gate/asked';
import { judgeTake } from '../../core/gate/judged-take';
import { BEATS } from '../../core/measures/beats/description';
import { FIGURE } from '../../core/measures/figure/description';
import type { Outcome } from '../../core/judge/measure';
import type { PlannedTrick } from '../../core/plan/types';
import { findTrick } from '../../core/tricks/library/library';
import type { Mark } from '../../core/plan/marks';
import { NO_WISHES, type RequirementKind } from '../../core/tricks/types';
import { WATCHED_KINDS, withZone } from '../../core/tricks/zones';
import { findBeats } from '../../core/take/beats';
import { findCloth } from '../../core/take/cloth';
import { findFigure } from '../../core/take/figure';
import { findHide } from '../../core/take/hide';
import { findStills } from '../../core/take/stills';
import { findZone } from '../../core/take/zone';
import type { CameraSettings } from '../../standin/settings';
import { fixtureClip } from '../../standin/testing/fixtures';
import { DEMO_SETUPS, DEMO_SHOOT, USUAL } from '../demo/demo-plan';
import type { DemoSetup, DemoTake } from '../demo/demo-types';

/** Three eighths of the demo's size each way are rolled and judged in a fraction of the time. */
const SMALLER = 0.375;
/** What is acted is told by its outlines: it wants more of them. */
const ACTED = 0.5;
const deliveryAt = (scale: number) => ({
  width: scale * DEMO_SHOOT.delivery_width,
  height: scale * DEMO_SHOOT.delivery_height,
  fps: DEMO_SHOOT.delivery_fps,
});

/** What the stand-in camera did wrong in a take, as its settings say; null where it did nothing wrong. */
function faultOf(take: DemoTake, zoned: boolean): RegExp | null {
  const {
    tripod = 'still',
    light = 'steady',
    focus = 'held',
    white = 'steady',
    rate = 'steady',
    wipe_fault: wipe,
  } = take;
  if (tripod === 'knock') return /Knocked at frame \d+/;
  if (tripod === 'drift') return /picture drifted by/;
  if (tripod === 'handheld') return /held by hand/;
  if (tripod === 'breathing') return /camera moves all the time|picture drifted by/;
  if (light === 'step') return /light jumps by/;
  if (light === 'cloud') return /light comes and goes/;
  if (light === 'flicker') return /light flickers/;
  if (focus === 'hunt') return /focus goes from frame/;
  if (rate === 'wandering') return /rate wanders/;
  if (white === 'shift') return /white shifts/;
  if (take.crossing === 'leaves-opening') return /shows outside the opening/;
  if (zoned && take.crossing === 'right-to-left') return /in the zone in frames/;
  if (take.crossing === 'shadow-only') return /shadow is in it/;
  if (take.act_fault === 'late' || take.act_fault === 'arm-beside') return /shows beside the cloth/;
  if (take.act_fault === 'blurred') return /px of motion blur/;
  if (take.act_fault === 'cut-off') return /cut off: top edge touched/;
  if (take.act === 'taps' && take.act_fault === 'elsewhere') return /in the zone in frames/;
  if (take.act_fault === 'swings') return /drifts by up to/;
  if (take.act_fault === 'spills') return /outside the zone too/;
  if (take.crossing === 'slips-before') return /something of them shows in every frame/;
  if (wipe === 'misses-corner') return /covers 9\d % of the picture at most/;
  if (wipe === 'stays-in') return /still in the picture at the end|never leaves|covers \d+ % of the picture at most/;
  if (wipe === 'uneven') return /speed varies by \d+ %/;
  return null;
}

/** The setup's tricks as they would be planned. */
function plannedOn(setup: DemoSetup): PlannedTrick[] {
  const plates = new Map<boolean, string>();
  const taken = new Set<string>();
  return setup.tricks.map(({ key, zone }) => {
    const trick = zone ? withZone(findTrick(key)!, zone) : findTrick(key)!;
    const parts = trick.parts.map((p) => {
      // Plates of one kind serve all tricks of a still camera; other parts of one name are told apart by their trick.
      const atEnd = p.place === 'last';
      const shared = p.role === 'plate' ? plates.get(atEnd) : undefined;
      const name = shared ?? (taken.has(p.name) ? `${p.name} (${trick.name})` : p.name);
      taken.add(name);
      if (p.role === 'plate') plates.set(atEnd, name);
      return [p.key, name];
    });
    return { id: key, trick, wishes: NO_WISHES, parts: Object.fromEntries(parts) as Record<string, string> };
  });
}

type DemoRow = (typeof DEMO_TAKES)[number];

/** Every take of the demo, with what the stand-in camera did wrong in it. */
export const DEMO_TAKES = DEMO_SETUPS.flatMap((setup, n) =>
  Object.entries(setup.takes).flatMap(([part, takes]) =>
    takes.map((take, k) => ({
      title: `setup ${n + 1}, ${part}, take ${k + 1}`,
      setup,
      part,
      take,
      fault: faultOf(
        take,
        setup.tricks.some((t) => t.zone),
      ),
    })),
  ),
);

/** Rolls a take of the demo to a file, measures it and judges it for what it is for. */
async function judgedDemoTake({ setup, part, take }: DemoRow) {
  const scale = take.act ? ACTED : SMALLER;
  const width = scale * (take.width ?? USUAL.width);
  const delivery = deliveryAt(scale);
  const { path } = await fixtureClip({ scene: setup.scene, ...USUAL, ...take, width } as CameraSettings);
  const file = await openTake(path, { name: 'take' });
  const facts = measuresOf(file.analysis);
  const asked = askedOfPart({ id: part, name: part, purpose: null }, plannedOn(setup));
  const outcomes: Outcome[] = [];
  if (asked.requirements.some(({ requirement: r }) => ['covers-frame', 'steady-move'].includes(r.kind))) {
    const { measure } = await coverOf(path, { delivery });
    outcomes.push({ measure: 'cover', takes: ['t'], state: 'done', failure: null, result: measure });
  }
  if (asked.requirements.some(({ requirement: r }) => r.kind === 'hidden-at')) {
    const result = await findHide(file, null);
    outcomes.push({ measure: 'hide', takes: ['t'], state: 'done', failure: null, result });
  }
  const asks = (kind: RequirementKind) => asked.requirements.some(({ requirement: r }) => r.kind === kind);
  const found = (measure: string, result: object) =>
    outcomes.push({ measure, takes: ['t'], state: 'done', failure: null, result });
  const empty = { scene: setup.scene, ...USUAL, fps: take.fps ?? USUAL.fps, width, seconds: 1, seed: 7 };
  const plate = take.act ? await againstOf((await fixtureClip(empty as CameraSettings)).path, 'plate') : null;
  if (asks('sharp-at')) found('stills', await findStills(file, plate, { delivery }));
  if (asks('cloth-hides')) found('cloth', await findCloth(file, plate!));
  if (asked.requirements.some(({ requirement: r }) => BEATS.decides[r.kind])) found('beats', await findBeats(file));
  const figures = asked.requirements.flatMap(({ requirement: r }) =>
    FIGURE.decides[r.kind] ? [FIGURE.wishFor!(r)!] : [],
  );
  for (const wish of figures) {
    const result = await findFigure(file, plate);
    outcomes.push({ measure: 'figure', takes: ['t'], wish, state: 'done', failure: null, result });
  }
  const watched = asked.requirements.filter(({ requirement: r }) => WATCHED_KINDS.includes(r.kind));
  const zone = watched.map(({ requirement: { zone: drawn } }) => drawn).find(Boolean);
  if (zone) {
    const { width: w, height: h } = facts.media;
    const corners = zone.map(([x, y]): [number, number] => [x * w, y * h]);
    const result = await findZone(file, corners, plate);
    outcomes.push({ measure: 'zone', takes: ['t'], wish: { zone }, state: 'done', failure: null, result });
  }
  const judged = { id: 't', number: 1, name: part, isPlate: asked.isPlate, facts, marks: marksOf(take) };
  return judgeTake(judged, asked, { delivery, among: [judged], outcomes });
}

const marksOf = ({ marks = [] }: DemoTake): Mark[] =>
  marks.map((m, k) => ({ ...m, id: String(k), kind: 'own', found: null }));

/** What is wrong with what is said of a take: a sound one holds, a faulty one is called so, by its fault and with what to do. */
export async function wrongOf(row: DemoRow): Promise<string | null> {
  const { verdict, text, findings, fix } = await judgedDemoTake(row);
  if (row.fault === null) return verdict === 'holds' ? null : `${verdict}, and nothing is wrong with it: ${text}`;
  if (verdict !== 'workable' && verdict !== 'reshoot') return `${verdict}, and ${row.fault} is to be said: ${text}`;
  const said = [text, ...findings.filter((f) => f.verdict !== 'holds').map((f) => f.text)].join(' ');
  if (!row.fault.test(said)) return `${row.fault} is not said: ${said}`;
  // Lists show one sentence: it names a fault and what to do.
  return fix?.endsWith('.') ? null : `nobody says what to do: ${fix}`;
}
