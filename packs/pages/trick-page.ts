import { createElement as h, type ReactNode } from 'react';
import { timecodeOf } from '../../core/formats/marks-out';
import { timeOf, timeWords } from '../../core/packs/steps';
import type { PackReport, PackTake, PackTrick } from '../../core/packs/types';
import { listRuns } from '../../core/judge/runs';
import type { ShownShot } from '../shots';
import { fileTable, NOTHING, page, section, shots, table, verdictCell, verdictLine } from './parts';

/** The page of one trick: what was shot, what it is worth, and what to do in the edit. */
export function trickPage(trick: PackTrick, report: PackReport, pictures: readonly ShownShot[]): string {
  const setup = report.setups.find((s) => s.id === trick.setup_id);
  const takes = trick.parts.flatMap((p) => report.takes.find((t) => t.id === p.take_id) ?? []);
  const missing = report.missing.filter((m) => m.trick === trick.name && m.setup === setup?.number);
  const files = [...trick.files, ...takes.flatMap((t) => t.files)].filter((f) => f.kind !== 'page');
  return page(
    `${trick.name}, ${report.shoot.name}`,
    h('p', null, h('a', { href: '../README.html' }, `${report.shoot.name}, all tricks`)),
    h('h1', null, trick.name),
    h('p', { className: 'soft' }, `Setup ${setup?.number ?? '—'}, ${setup?.name ?? ''}. ${trick.summary}`),
    verdictLine(trick.verdict),
    h('div', { className: 'numbers' }, ...numbersOf(trick, takes, report)),
    missing.length
      ? section('What is missing', h('ul', null, ...missing.map((m, i) => h('li', { key: i }, `${m.text} ${m.fix}`))))
      : NOTHING,
    section('What to do, in this order', stepList(trick)),
    section('How it is laid together', ...layers(trick, report)),
    section('Pictures', shots(pictures)),
    section('Frames to look at', cueTable(trick, takes)),
    section('Takes', takeTable(trick, takes)),
    section('What was asked, and what was found', requirementTable(trick)),
    section('Files', fileTable(files, '../'), recordingTable(takes)),
  );
}

function numbersOf(trick: PackTrick, takes: readonly PackTake[], { shoot }: PackReport): ReactNode[] {
  const { delivery } = shoot;
  const number = (value: string, says: string) =>
    h('div', { key: says }, h('div', { className: 'big' }, value), h('span', null, says));
  const { assembly } = trick;
  return [
    ...(trick.steps.length ? [number(timeWords(timeOf(trick.steps)), 'rough time in the edit')] : []),
    ...(assembly ? [number(`${assembly.frames} frames`, `long, at ${rateWords(assembly.rate)} fps`)] : []),
    ...(assembly && assembly.cut !== null ? [number(String(assembly.cut), 'frame of the cut in the timeline')] : []),
    number(`${takes.length}`, takes.length === 1 ? 'take' : 'takes'),
    number(`${delivery.width} x ${delivery.height}`, `delivery, at ${delivery.fps} fps`),
  ];
}

const rateWords = ([over, under]: readonly [number, number]) => (under === 1 ? String(over) : `${over}/${under}`);

function stepList({ steps, not_assembled }: PackTrick): ReactNode {
  if (steps.length === 0) return not_assembled ? h('p', null, not_assembled) : NOTHING;
  return h(
    'ol',
    null,
    ...steps.map((s, i) =>
      h('li', { key: i }, s.what, ' ', h('span', { className: 'soft' }, `(${timeWords(s.minutes)})`)),
    ),
  );
}

const MASKS = {
  seam: 'parted by the line',
  opening: 'inside the zone only',
  figure: 'only whoever is in it',
  cover: 'whole before the cut, then only what covers the picture',
  cloth: 'in front of the plate as far as the cloth reaches',
  strength: 'seen through',
};

function layers({ assembly, not_assembled, left_out }: PackTrick, report: PackReport): ReactNode[] {
  if (!assembly) return [not_assembled ? h('p', { key: 'not' }, not_assembled) : NOTHING];
  const rows = assembly.layers.flatMap((layer, n) =>
    layer.pieces.map((p) => {
      const take = report.takes.find((t) => t.id === p.take);
      return [
        `${n + 1}${n === 0 ? ', lowest' : n === assembly.layers.length - 1 ? ', uppermost' : ''}`,
        take?.label ?? '',
        `${p.start} to ${p.start + p.frames - 1}`,
        p.speed === 0 ? `frame ${p.from} held` : `from frame ${p.from}`,
        p.speed === 0 ? '—' : `${(100 * p.speed).toFixed(0)} %`,
        layer.mask ? MASKS[layer.mask] : 'whole',
      ];
    }),
  );
  const notes = left_out.length
    ? h('p', { key: 'out', className: 'soft' }, `Not laid in: ${left_out.join(', ')}.`)
    : NOTHING;
  return [table(['Layer', 'Take', 'Timeline frames', 'Take frame', 'Speed', 'Shows'], rows, [2, 3, 4]), notes];
}

function cueTable({ cues }: PackTrick, takes: readonly PackTake[]): ReactNode {
  const rows = takes.flatMap((take) =>
    cues
      .filter((c) => c.take === take.id)
      .map((c) => [
        take.label,
        String(c.frame),
        timecodeOf({ rate: take.rate, timecode: take.media.timecode }, c.frame) ?? '—',
        c.name,
      ]),
  );
  return table(['Take', 'Frame', 'Timecode', 'What'], rows, [1, 2]);
}

function takeTable({ parts }: PackTrick, takes: readonly PackTake[]): ReactNode {
  const rows = parts.map((part) => {
    const take = takes.find((t) => t.id === part.take_id);
    if (!take) return [part.name, 'none', '—', '—', '—', part.optional ? 'May be left out.' : ''];
    const { media, report } = take;
    const clear = take.clear_runs.length ? ` Clear in frames ${listRuns(take.clear_runs, Infinity)}.` : '';
    return [
      part.name,
      `take ${take.number}${take.circled ? ', circled' : ''}`,
      `${media.frame_count}`,
      `${media.width} x ${media.height}, ${rateWords(take.rate)}`,
      verdictCell(report.take.verdict),
      `${report.take.text}${report.take.fix ? ` ${report.take.fix}` : ''} ${report.take.line}.${clear}`,
    ];
  });
  return table(['Part', 'Take', 'Frames', 'Size, rate', 'Verdict', 'Why'], rows, [2, 3]);
}

function requirementTable({ requirements }: PackTrick): ReactNode {
  const rows = requirements
    .filter((r) => r.applies)
    .map((r) => [
      verdictCell(r.verdict),
      h('span', null, r.says, h('br'), h('span', { className: 'soft' }, r.partNames.join(', '))),
      `${r.text}${r.fix ? ` ${r.fix}` : ''}`,
      r.why,
    ]);
  return table(['Verdict', 'Asked', 'Found', 'Why it matters'], rows);
}

function recordingTable(takes: readonly PackTake[]): ReactNode {
  const size = (bytes: number) => (bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`);
  return table(
    ['Recording', 'Its name on the card', 'Size', 'Reel', 'In this pack'],
    takes.map((t) => [
      h('span', { className: 'mono path' }, t.recording.path),
      t.name,
      size(t.recording.bytes),
      t.reel,
      t.recording.in_pack ? 'yes' : 'no: lay it there under this name',
    ]),
    [2, 3],
  );
}
