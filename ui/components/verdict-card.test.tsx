/** @jest-environment node */
import type { ReactElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import type { Verdict } from '../../core/report/types';
import { ThemeProvider } from '../theme/theme';
import { DAY, STAGE } from '../theme/palette';
import { Disc } from './disc';
import { VerdictCard } from './verdict-card';

const knocked: Verdict = {
  verdict: 'reshoot',
  reasons: [
    {
      code: 'knock',
      text: 'Knocked at frame 145 by 9.80 px; it settled 2.43 px off.',
      frames: [{ start: 145, end: 160 }],
      value: 9.8,
      limit: 0.35,
      fix: 'Line the camera up again.',
    },
    {
      code: 'shake',
      text: 'The picture shakes by 1.20 px all through.',
      frames: [{ start: 0, end: 250 }],
      value: 1.2,
      limit: 0.35,
      fix: null,
    },
  ],
  deciding: [
    { name: 'peak', value: 9.8, unit: 'px', limit: 0.35, frame: 147 },
    { name: 'rest', value: 2.43, unit: 'px', limit: 0.35, frame: 161 },
  ],
};

const text = (element: ReactElement) =>
  renderToStaticMarkup(<ThemeProvider>{element}</ThemeProvider>)
    .replace(/<[^>]+>/g, '|')
    .replace(/\|+/g, '|');

test('the card says word, sentence, numbers with limits, what to do, then evidence, in this order', () => {
  const said = text(<VerdictCard verdict={knocked} of="Lock" onFrame={() => undefined} worstFrame={147} />);
  const order = [
    'Lock: reshoot',
    'Knocked at frame 145',
    '9.80| px',
    'peak at 147',
    'limit 0.35 px',
    '2.43| px',
    'Line the camera up again.',
    'Worst frame: 147',
    'shakes by 1.20 px',
  ];
  const places = order.map((words) => said.indexOf(words));
  expect(places.every((p) => p >= 0)).toBe(true);
  expect(places).toEqual([...places].sort((a, b) => a - b));
});

test('an unjudged verdict offers no worst frame', () => {
  const said = text(
    <VerdictCard verdict={{ ...knocked, verdict: 'unjudged' }} of="Lock" onFrame={() => undefined} worstFrame={3} />,
  );
  expect(said).not.toContain('Worst frame');
});

test('every disc has a word for those who do not see it', () => {
  for (const verdict of ['holds', 'workable', 'reshoot', 'unjudged'] as const) {
    expect(renderToStaticMarkup(<Disc verdict={verdict} />)).toContain(`aria-label="${verdict}"`);
  }
});

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((i) => parseInt(hex.slice(i, i + 2), 16) / 255)
    .map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
const contrast = (a: string, b: string) => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (x + 0.05) / (y + 0.05);
};

test('text contrast: 7:1 by day, 4.5:1 on stage', () => {
  for (const [palette, least] of [
    [DAY, 7],
    [STAGE, 4.5],
  ] as const) {
    for (const ground of [palette.background, palette.card]) {
      for (const ink of [palette.ink, palette.soft]) expect(contrast(ink, ground)).toBeGreaterThanOrEqual(least);
    }
    expect(contrast(palette.onAction, palette.action)).toBeGreaterThanOrEqual(least);
  }
});
