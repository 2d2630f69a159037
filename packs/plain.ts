import { reportAnalysed } from '../core/take/report';
import type { Delivery } from '../core/take/cover';
import { copyFile, mkdir, readFile, stat } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { fileName, FreshNames } from '../core/formats/file-names';
import { reelName } from '../core/formats/edl';
import { exactRate } from '../core/formats/marks-out';
import { BEAT_WORDS } from '../core/measures/beats/judge';
import { worstOf } from '../core/judge/verdicts';
import { worstFrame } from '../core/judge/worst-frame';
import { MEASURES, type AnyMeasure } from '../core/measures';
import { TAKE } from '../core/measures/take/description';
import { freshName, type Mark } from '../core/plan/marks';
import { finishTrick } from '../core/packs/finish';
import { PACK_VERSION, type PackFound, type PackReport, type PackTake } from '../core/packs/types';
import type { BeatsFound } from '../core/report/moment-types';
import { NO_WISHES, type PartRole, type Purpose, type Trick } from '../core/tricks/types';
import type { Zone } from '../core/tricks/zones';
import { endingOfFile } from '../media/ffmpeg/container';
import { UnusableMedia } from '../media/errors';
import type { FedTake } from '../media/feeds/feed';
import { hashFile } from '../media/store/hash-file';
import { unpackAnalysis } from '../media/store/kept-analysis';
import { keptPath } from '../media/store/kept-files';
import { PlainMeasures } from '../media/feeds/plain-measures';
import { writePack, type WrittenPack } from './write-pack';
import type { TakeSources } from './takes';

/** A measure of some parts of a trick. */
export interface PlainMeasure {
  measure: AnyMeasure;
  of: string[];
  /** What is wished of it, once the size of the first picture is known. */
  wish: (size: { width: number; height: number }) => object;
}

/** A trick of plain files, to be packed without a server. */
export interface PlainPacking {
  trick: Trick;
  /** The file of each part of the trick that has one, by the part's key. */
  files: ReadonlyMap<string, string>;
  measures: readonly PlainMeasure[];
  delivery: Delivery | undefined;
  /** What its passes are for, where they are no locked ones. */
  purpose?: Purpose;
  /** The folder to write to, which is there and empty; and one for what is kept on the way. */
  root: string;
  work: string;
  version: string;
  /** Whether copies of the recordings, and rough mattes, go along. */
  recordings: boolean;
  mattes: boolean;
  say: (text: string) => void;
}

const SETUP = 'files';
const PURPOSE_OF: Record<PartRole, Purpose> = {
  plate: 'plate',
  pass: 'locked',
  'out-side': 'out',
  'in-side': 'in',
  still: 'still',
};

/** Measures plain files as a trick's takes, and writes the pack of it. @throws UnusableMedia */
export async function packPlain(work: PlainPacking): Promise<WrittenPack> {
  const { trick, files, delivery: given, root, version, say } = work;
  const plain = new PlainMeasures(work.work, given, say);
  const fed = new Map<string, FedTake>();
  for (const { key, name } of trick.parts) {
    say(`measuring ${name}`);
    const own = work.measures.filter((m) => m.of.includes(key)).map((m) => m.measure);
    const needsTake = { ...TAKE, needs: [TAKE.key], uses: [] } as unknown as AnyMeasure;
    fed.set(key, await plain.fed(files.get(key)!, key, [needsTake, ...own]));
  }
  const plateKey = trick.parts.find((p) => p.role === 'plate')?.key;
  const found: PackFound[] = [];
  let zone: Zone | null = null;
  for (const { measure, of, wish: wishOf } of work.measures) {
    say(`measuring ${measure.key}`);
    const takes = of.map((key) => fed.get(key)!);
    const plate = plateKey && !of.includes(plateKey) ? fed.get(plateKey)! : null;
    const wish = wishOf(takes[0].facts!.media);
    zone ??= (wish as { zone?: Zone | null }).zone ?? null;
    const result = await plain.make(measure, takes, wish, plate);
    const by = { delivery: plain.deliveryOf(takes), takes: takes.map((t) => ({ facts: t.facts!, shutterS: null })) };
    const verdict = measure.judge?.(result, by)?.verdict ?? null;
    found.push({ measure: measure.key, takes: of, wish, result, verdict });
  }
  const names = new FreshNames();
  const takes = new Map<string, PackTake>();
  const sources: Record<string, TakeSources> = {};
  for (const [i, part] of trick.parts.entries()) {
    const one = fed.get(part.key)!;
    const { take, source } = await takeOf(one, { part, position: i, purpose: work.purpose }, plain, found, names);
    takes.set(part.key, take);
    sources[take.id] = source;
  }
  const list = [...takes.values()];
  const delivery = plain.deliveryOf([...fed.values()]);
  const planned = {
    id: SETUP,
    setup_id: SETUP,
    trick,
    wishes: NO_WISHES,
    parts: Object.fromEntries(trick.parts.map((p) => [p.key, p.key])),
  };
  const verdicts = [...list.map((t) => t.report.take.verdict), ...found.flatMap((f) => f.verdict ?? [])];
  const title = list.map((t) => t.name).join(' and ');
  const report: PackReport = {
    format: 'umbrastat-pack',
    version: PACK_VERSION,
    made_at: new Date().toISOString(),
    wish: { recordings: work.recordings, mattes: work.mattes, plates: true, takes: 'all' },
    shoot: { id: SETUP, name: title, place: '', days: [], delivery },
    setups: [{ id: SETUP, number: 1, name: 'Files', place: '', notes: '', camera: {}, headline: '' }],
    tricks: [
      {
        id: SETUP,
        setup_id: SETUP,
        key: trick.key,
        name: trick.name,
        summary: trick.summary,
        wishes: NO_WISHES,
        parts: trick.parts.map(({ key, name, role, what }) => {
          return { key, name, role, what, optional: false, take_id: key };
        }),
        requirements: [],
        zone,
        verdict: worstOf(verdicts.map((verdict) => ({ verdict })))?.verdict ?? 'unjudged',
        found,
        ...finishTrick({ trick: planned, takes, found }),
        files: [],
      },
    ],
    takes: list,
    unmeasured: [],
    left_behind: [],
    missing: [],
    files: [],
  };
  const packing = { report, sources, texts: {}, name: fileName(title), root, version };
  const written = await writePack(packing, new AbortController().signal, (_done, _total, doing) => say(doing));
  for (const { path, from } of written.added) {
    say(`copying ${basename(from)}`);
    await mkdir(dirname(join(root, path)), { recursive: true });
    await copyFile(from, join(root, path));
  }
  return written;
}

async function takeOf(
  { id, path, name, facts }: FedTake,
  { part, position, purpose }: { part: Trick['parts'][number]; position: number; purpose?: Purpose },
  plain: PlainMeasures,
  found: readonly PackFound[],
  names: FreshNames,
): Promise<{ take: PackTake; source: TakeSources }> {
  const subject = { recording: `file-${id}`, take: id, itself: 'one' };
  const kept = keptPath(plain.root, MEASURES.take.files, subject, 'analysis');
  const analysis = unpackAnalysis(await readFile(kept));
  if (!analysis || !facts) throw new UnusableMedia(`"${name}" could not be measured whole. Try again.`, 'broken');
  const own = found.filter((f) => f.takes.includes(id));
  const outcomes = own.map((f) => ({ ...f, takes: f.takes, state: 'done' as const, failure: null }));
  const { width, height, fps } = plain.deliveryOf([{ facts } as FedTake]);
  const report = reportAnalysed(analysis, name, purpose ?? PURPOSE_OF[part.role], { width, height, fps }, outcomes);
  const rate = exactRate(report.media.container_fps, report.media.measured_fps) ?? [25, 1];
  const ending = await endingOfFile(path);
  const { size, mtime } = await stat(path);
  const take: PackTake = {
    id,
    setup_id: SETUP,
    part_id: id,
    part: part.name,
    number: 1,
    label: name,
    circled: true,
    source: 'file',
    name,
    rolled_at: mtime.toISOString(),
    reel: reelName({ setup: 1, part: position + 1, take: 1 }),
    recording: {
      path: `recordings/${names.of(basename(name, extname(name)), ending)}`,
      in_pack: false,
      bytes: size,
      sha256: await hashFile(path),
      xxh64: null,
    },
    rate: [rate[0], rate[1]],
    media: report.media,
    report,
    worst_frame: worstFrame(report)?.frame ?? null,
    clear_runs: report.presence.clear_runs,
    marks: marksOf(own),
    files: [],
  };
  return { take, source: { path, analysis: kept, cutouts: [] } };
}

/** Beats that were found, as marks. */
function marksOf(found: readonly PackFound[]): Mark[] {
  const beats = found.find((f) => f.measure === 'beats')?.result as BeatsFound | undefined;
  const marks: Mark[] = [];
  for (const { frame, kind } of beats?.beats ?? [])
    marks.push({ id: `beat-${marks.length}`, frame, name: freshName(BEAT_WORDS[kind][0], marks), kind, found: frame });
  return marks;
}
