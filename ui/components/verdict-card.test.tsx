import { fireEvent, render, screen } from '@testing-library/react-native';
import type { Verdict } from '../../core/report/types';
import { ThemeProvider } from '../theme/theme';
import { DAY, STAGE } from '../theme/palette';
import { VerdictCard } from './verdict-card';

const knocked: Verdict = {
  verdict: 'reshoot',
  reasons: [
    { code: 'knock', text: 'Knocked at frame 145 by 9.80 px; it settled 2.43 px off.', frames: [{ start: 145, end: 160 }], value: 9.8, limit: 0.35, fix: 'Line the camera up again.' },
    { code: 'shake', text: 'The picture shakes by 1.20 px all through.', frames: [{ start: 0, end: 250 }], value: 1.2, limit: 0.35, fix: null },
  ],
  deciding: [{ name: 'peak', value: 9.8, unit: 'px', limit: 0.35, frame: 147 }, { name: 'rest', value: 2.43, unit: 'px', limit: 0.35, frame: 161 }],
};

test('the card says word, sentence, numbers with limits, and what to do; the worst frame is one tap away', () => {
  const onFrame = jest.fn();
  render(<ThemeProvider><VerdictCard verdict={knocked} of="Lock" onFrame={onFrame} worstFrame={147} /></ThemeProvider>);
  expect(screen.getByText('Lock: reshoot')).toBeTruthy();
  expect(screen.getByText(/Knocked at frame 145/)).toBeTruthy();
  expect(screen.getAllByText('limit 0.35 px')).toHaveLength(2);
  expect(screen.getByText('Line the camera up again.')).toBeTruthy();
  fireEvent.press(screen.getByTestId('worst-frame'));
  expect(onFrame).toHaveBeenCalledWith(147);
});

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16) / 255).map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
const contrast = (a: string, b: string) => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (x + 0.05) / (y + 0.05);
};

test('text contrast: 7:1 by day, 4.5:1 on stage', () => {
  for (const [palette, least] of [[DAY, 7], [STAGE, 4.5]] as const) {
    for (const ground of [palette.background, palette.card]) {
      for (const ink of [palette.ink, palette.soft]) expect(contrast(ink, ground)).toBeGreaterThanOrEqual(least);
    }
    expect(contrast(palette.onAction, palette.action)).toBeGreaterThanOrEqual(least);
  }
});
