import { createElement as h, type ReactNode } from 'react';
import { timeOf, timeWords } from '../../core/packs/steps';
import type { Missing, PackReport } from '../../core/packs/types';
import { fileTable, NOTHING, page, section, table, verdictCell } from './parts';

const BY: Record<Missing['by'], string> = {
  set: 'on set, while the setup stands',
  bench: 'at the bench',
  choice: 'whoever chooses the takes',
};

/** The first page of a pack: all its tricks, what is missing, and how the rest is to be read. */
export function indexPage(report: PackReport, tricksAt: ReadonlyMap<string, string>): string {
  const { shoot } = report;
  const total = timeOf(report.tricks.flatMap((t) => t.steps));
  return page(
    `${shoot.name}: for whoever draws the masks`,
    h('h1', null, shoot.name),
    h(
      'p',
      { className: 'soft' },
      `${shoot.place ? `${shoot.place}. ` : ''}Finished at ${shoot.delivery.width} x ${shoot.delivery.height}, ` +
        `${shoot.delivery.fps} fps. Made ${report.made_at.slice(0, 16).replace('T', ' ')} UTC.`,
    ),
    h(
      'p',
      null,
      `${report.tricks.length === 1 ? 'One trick' : `${report.tricks.length} tricks`}` +
        `${total[1] ? `, ${timeWords(total)} in the edit, roughly` : ''}. Open one for what to do, in order, with its pictures and files.`,
    ),
    ...leftBehind(report),
    ...report.setups.map((setup) =>
      section(
        `Setup ${setup.number}: ${setup.name}`,
        h(
          'p',
          { className: 'soft' },
          [setup.headline, setup.place && `${setup.place}.`, setup.notes].filter(Boolean).join(' '),
        ),
        table(
          ['Trick', 'Verdict', 'What the audience sees', 'Time'],
          report.tricks
            .filter((t) => t.setup_id === setup.id)
            .map((t) => [
              h('a', { href: tricksAt.get(t.id) }, t.name),
              verdictCell(t.verdict),
              t.summary,
              t.steps.length ? timeWords(timeOf(t.steps)) : '—',
            ]),
          [3],
        ),
      ),
    ),
    section(
      'What is missing',
      table(
        ['Setup', 'Trick', 'What', 'What to do', 'Who'],
        report.missing.map((m) => [String(m.setup), m.trick ?? '', m.text, m.fix, BY[m.by]]),
        [0],
      ),
    ),
    section('Reading the numbers', conventions(report)),
    section(
      'Files of the whole',
      fileTable(
        report.files.filter((f) => f.kind !== 'page'),
        '',
      ),
    ),
  );
}

/** What is not in the pack, and what is in it without a word about it: first of all, as it is missed too late. */
function leftBehind({ left_behind: left, unmeasured }: PackReport): ReactNode[] {
  const items = (lines: readonly string[]) => h('ul', null, ...lines.map((text, i) => h('li', { key: i }, text)));
  const bare = unmeasured.map((t) => `${t.label} (${t.recording.path}): ${t.why}`);
  return [
    ...(left.length ? [section('Not in this pack', items(left))] : []),
    ...(bare.length ? [section('Recordings of which nothing is known', items(bare))] : []),
  ];
}

function conventions({ wish }: PackReport): ReactNode {
  const lines = [
    'Frames are counted from 0, in the order in which they are shown; of runs both ends are meant.',
    'Pixels are those of the recording as shown, x to the right and y down. Angles are in degrees: 0 to the right, 90 down.',
    'Light is in stops. A verdict is Holds, Workable, Reshoot or Unjudged.',
    'Timelines (OpenTimelineIO) and lists refer to recordings/ beside them, by the names in reels.csv.',
    'In a mask white is where the upper layer, or the second take, shows; lines and zones are in the pixels of the takes.',
    'The hash list in ascmhl/ tells whether every file here is as it was: umbrastat verify, or any tool that reads ASC MHL.',
    ...(wish.recordings
      ? []
      : ['The recordings are not in this pack: lay them into recordings/ under the names in reels.csv.']),
  ];
  return lines.length ? h('ul', null, ...lines.map((text, i) => h('li', { key: i }, text))) : NOTHING;
}
