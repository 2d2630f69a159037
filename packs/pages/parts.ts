import { createElement as h, Fragment, type ReactNode } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { VERDICT_WORDS } from '../../core/judge/verdicts';
import { DAY } from '../../core/packs/colours';
import type { PackFile } from '../../core/packs/types';
import type { VerdictWord } from '../../core/report/types';
import type { ShownShot } from '../shots';
import { pageStyle } from './style';

/** What is never shown by itself. */
export const NOTHING = h(Fragment);

/** A whole page as HTML: style, typefaces and pictures in it, no scripts. */
export function page(title: string, ...content: ReactNode[]): string {
  const head = h(
    'head',
    null,
    h('meta', { charSet: 'utf-8' }),
    h('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
    h('title', null, title),
    h('style', { dangerouslySetInnerHTML: { __html: pageStyle() } }),
  );
  const body = h('body', null, h('main', null, ...content));
  return `<!doctype html>\n${renderToStaticMarkup(h('html', { lang: 'en' }, head, body))}\n`;
}

/** A verdict as the phase of a disc. */
export function disc(verdict: VerdictWord, size = 22): ReactNode {
  const [m, colour] = [size / 2, DAY[verdict]];
  const r = m - 1.5;
  const ring = (props: object) => h('circle', { cx: m, cy: m, fill: 'none', stroke: colour, ...props });
  const shape = {
    holds: h('circle', { cx: m, cy: m, r, fill: colour }),
    workable: h(
      Fragment,
      null,
      ring({ r: r - 0.5, strokeWidth: 2.5 }),
      h('path', { d: `M${m} ${m - r}A${r} ${r} 0 0 1 ${m} ${m + r}Z`, fill: colour }),
    ),
    reshoot: ring({ r: r * 0.82, strokeWidth: r * 0.36 }),
    unjudged: ring({ r: r - 0.5, strokeWidth: 2.2, strokeDasharray: '2.2 3.6' }),
  }[verdict];
  return h('svg', { width: size, height: size, viewBox: `0 0 ${size} ${size}`, 'aria-hidden': true }, shape);
}

/** Disc and word. */
export function verdictLine(verdict: VerdictWord, more = ''): ReactNode {
  return h('p', { className: `verdict ${verdict}` }, disc(verdict, 34), h('span', null, VERDICT_WORDS[verdict] + more));
}

/** Disc and word in a table. */
export function verdictCell(verdict: VerdictWord): ReactNode {
  return h('span', { className: verdict }, disc(verdict, 18), ` ${VERDICT_WORDS[verdict]}`);
}

/** A table; nothing where it has no rows. @param numeric columns of numbers and frames */
export function table(heads: string[], rows: ReactNode[][], numeric: number[] = []): ReactNode {
  if (rows.length === 0) return NOTHING;
  const kind = (i: number) => ({ key: i, className: numeric.includes(i) ? 'n' : undefined });
  return h(
    'div',
    { className: 'scroll' },
    h(
      'table',
      null,
      h('thead', null, h('tr', null, ...heads.map((text, i) => h('th', kind(i), text)))),
      h('tbody', null, ...rows.map((cells, n) => h('tr', { key: n }, ...cells.map((c, i) => h('td', kind(i), c))))),
    ),
  );
}

/** A part of a page; nothing where it has no content. */
export function section(title: string, ...content: ReactNode[]): ReactNode {
  return content.every((c) => c === NOTHING) ? NOTHING : h('section', null, h('h2', null, title), ...content);
}

/** Frames with what is drawn over them. */
export function shots(all: readonly ShownShot[]): ReactNode {
  if (all.length === 0) return NOTHING;
  return h('div', { className: 'shots' }, ...all.map((s, i) => h(Fragment, { key: i }, shot(s))));
}

function shot({ picture, caption, take, lines, boxes }: ShownShot): ReactNode {
  const { width, height } = take.media;
  const stroke = Math.max(3, width / 320);
  const line = { fill: 'none', stroke: DAY.card, strokeWidth: stroke, strokeLinejoin: 'round' };
  const path = (points: ShownShot['lines'][number]['points'], closed: boolean) =>
    `${points.map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')}${closed ? 'Z' : ''}`;
  const over = [
    ...lines.flatMap(({ points, closed }) => [
      h('path', { ...line, stroke: DAY.ink, strokeWidth: 2 * stroke, d: path(points, closed) }),
      h('path', { ...line, d: path(points, closed) }),
    ]),
    ...boxes.map(({ x, y, width: w, height: b }) => h('rect', { ...line, x, y, width: w, height: b })),
  ];
  return h(
    'figure',
    null,
    h(
      'div',
      { className: 'frame' },
      h('img', { src: picture, alt: caption, width, height }),
      over.length ? h('svg', { viewBox: `0 0 ${width} ${height}`, 'aria-hidden': true }, ...over) : null,
    ),
    h('figcaption', null, caption),
  );
}

/** Files with links to them. @param up from the page's folder to the pack's */
export function fileTable(files: readonly PackFile[], up: string): ReactNode {
  return table(
    ['File', 'What it is'],
    files.map(({ path, says }) => [
      h('a', { href: up + path.split('/').map(encodeURIComponent).join('/'), className: 'mono path' }, path),
      says,
    ]),
  );
}
