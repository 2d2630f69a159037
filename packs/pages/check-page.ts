import { createElement as h } from 'react';
import { listRuns } from '../../core/judge/runs';
import { PURPOSES } from '../../core/tricks/library/purposes';
import type { CheckedFile, CheckedFolder } from '../check-folder';
import { page, section, shots, table, verdictCell, verdictLine } from './parts';
import type { ShownShot } from '../shots';

/** The report on a folder of recordings, by the places that they show. */
export function checkPage(folder: string, checked: CheckedFolder, worst: readonly ShownShot[]): string {
  const places = [...new Set(checked.files.map((f) => f.place))];
  const alone = places.filter((p) => checked.files.filter((f) => f.place === p).length === 1);
  const many = places.filter((p) => !alone.includes(p));
  const of = (wanted: readonly number[]) => checked.files.filter((f) => wanted.includes(f.place));
  return page(
    `${folder}: recordings checked`,
    h('h1', null, folder),
    h(
      'p',
      { className: 'soft' },
      `${checked.files.length} recordings, judged for what each seems to be: a plate where nobody is in, a moving shot ` +
        'where the camera moves all the time, a locked pass else. Recordings of one size, rate and place stand together.',
    ),
    verdictLine(checked.verdict, checked.files.length > 1 ? ', the worst of them' : ''),
    ...many.map((p, n) => section(`Shot from one place (${n + 1})`, rows(of([p])))),
    section(many.length ? 'By themselves' : 'Recordings', rows(of(alone))),
    section('Their worst frames', shots(worst)),
    section(
      'Not measured',
      table(
        ['File', 'Why'],
        checked.passed_over.map((p) => [h('span', { className: 'mono path' }, p.path), p.why]),
      ),
    ),
  );
}

function rows(files: readonly CheckedFile[]) {
  return table(
    ['File', 'Taken for', 'Verdict', 'Why, and what to do', 'Its plate', 'Frames, size, rate'],
    files.map(({ path, taken_for, report: { take, media, presence }, plate }) => [
      h('span', { className: 'mono path' }, path),
      PURPOSES[taken_for].name,
      verdictCell(take.verdict),
      `${take.text} ${take.fix ?? ''}${presence.clear_runs.length ? ` Clear in frames ${listRuns(presence.clear_runs)}.` : ''}`,
      plate ? h('span', null, verdictCell(plate.verdict), ` ${plate.path}: ${plate.text}`) : '—',
      `${media.frame_count}, ${media.width} x ${media.height}, ${media.container_fps}`,
    ]),
  );
}
