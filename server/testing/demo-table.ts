import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { askedOfPart } from '../../core/judge/asked';
import { judgeTake } from '../../core/judge/judged-take';
import type { Outcome } from '../../core/measures/measure';
import type { PlannedTrick } from '../../core/plan/types';
import { findTrick } from '../../core/tricks/library';
import { NO_WISHES } from '../../core/tricks/types';
import { withZone } from '../../core/tricks/zones';
import { findCover } from '../../media/measure-cover';
import { findHide } from '../../media/measure-hide';
import { analyseTake, measuresOf } from '../../media/measure-take';
import { findZone } from '../../media/measure-zone';
import { recordTake } from '../../standin/record';
import type { CameraSettings } from '../../standin/settings';
import { DEMO_SETUPS, DEMO_SHOOT, USUAL, type DemoSetup, type DemoTake } from '../demo/demo-plan';

/** Three eighths of the demo's size each way are rolled and judged in a fraction of the time. */
const SMALLER = 0.375;
const DELIVERY = {
  width: SMALLER * DEMO_SHOOT.delivery_width,
  height: SMALLER * DEMO_SHOOT.delivery_height,
  fps: DEMO_SHOOT.delivery_fps,
};

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
  if (take.crossing === 'slips-before') return /something of them shows in every frame/;
  if (wipe === 'misses-corner') return /covers 9\d % of the picture at most/;
  if (wipe === 'stays-in') return /still in the picture at the end|never leaves|covers \d+ % of the picture at most/;
  if (wipe === 'uneven') return /speed varies by \d+ %/;
  return null;
}

/** The setup's tricks as they would be planned: parts of one name are one part. */
function plannedOn(setup: DemoSetup): PlannedTrick[] {
  return setup.tricks.map(({ key, zone }) => {
    const trick = zone ? withZone(findTrick(key)!, zone) : findTrick(key)!;
    return { id: key, trick, wishes: NO_WISHES, parts: Object.fromEntries(trick.parts.map((p) => [p.key, p.name])) };
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
async function judgedDemoTake({ setup, part, take }: DemoRow, path: string) {
  const width = SMALLER * (take.width ?? USUAL.width);
  await recordTake({ scene: setup.scene, ...USUAL, ...take, width } as CameraSettings, path);
  const analysis = await analyseTake(path);
  const facts = measuresOf(analysis);
  const asked = askedOfPart({ id: part, name: part, purpose: null }, plannedOn(setup));
  const outcomes: Outcome[] = [];
  if (asked.requirements.some(({ requirement: r }) => ['covers-frame', 'steady-move'].includes(r.kind))) {
    const { measure } = await findCover(path, { delivery: DELIVERY });
    outcomes.push({ measure: 'cover', takes: ['t'], state: 'done', failure: null, result: measure });
  }
  if (asked.requirements.some(({ requirement: r }) => r.kind === 'hidden-at')) {
    const result = await findHide({ path, name: 'take', analysis }, null);
    outcomes.push({ measure: 'hide', takes: ['t'], state: 'done', failure: null, result });
  }
  const zone = asked.requirements.map(({ requirement: { zone: drawn } }) => drawn).find(Boolean);
  if (zone) {
    const { width: w, height: h } = facts.media;
    const corners = zone.map(([x, y]): [number, number] => [x * w, y * h]);
    const result = await findZone({ path, name: 'take', analysis }, corners, null);
    outcomes.push({ measure: 'zone', takes: ['t'], wish: { zone }, state: 'done', failure: null, result });
  }
  const judged = { id: 't', number: 1, name: part, isPlate: asked.isPlate, facts };
  return judgeTake(judged, asked, { delivery: DELIVERY, among: [judged], outcomes });
}

/** A test for each of some takes: a sound one holds, a faulty one is called so, by its fault and with what to do. */
export function testVerdicts(takes: readonly DemoRow[]): void {
  const folder = mkdtempSync(join(tmpdir(), 'umbrastat-demo-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  test.each(takes)('$title: $fault', async (row) => {
    const path = join(folder, `${DEMO_TAKES.indexOf(row)}.mp4`);
    const found = await judgedDemoTake(row, path);
    rmSync(path, { force: true });
    if (row.fault === null) expect([found.text, found.verdict]).toEqual([found.text, 'holds']);
    else {
      expect(['workable', 'reshoot']).toContain(found.verdict);
      const said = [found.text, ...found.findings.filter((f) => f.verdict !== 'holds').map((f) => f.text)].join(' ');
      expect(said).toMatch(row.fault);
      // Lists show one sentence: it names a fault and what to do.
      expect(found.fix).toMatch(/\.$/);
    }
  });
}
