/**
 * For `./test bounds`: notes each assertion of a measured number that a third more, or less, would have failed. Other
 * processors round otherwise; a bound keeps a third's distance from what was measured.
 */
const { appendFileSync } = require('node:fs');

const file = process.env.UMBRASTAT_BOUNDS;
const THIRD = 4 / 3;

/** How far each kind of bound is used up: 1 is at the bound itself; null where it is no measured number. */
const used = {
  toBeLessThan: (value, bound) => (bound > 0 && value > 0 ? value / bound : null),
  toBeLessThanOrEqual: (value, bound) => (bound > 0 && value > 0 ? value / bound : null),
  toBeGreaterThan: (value, bound) => (bound > 0 && value > 0 ? bound / value : null),
  toBeGreaterThanOrEqual: (value, bound) => (bound > 0 && value > 0 ? bound / value : null),
  toBeCloseTo: (value, wanted, digits = 2) => Math.abs(value - wanted) / (0.5 * 10 ** -digits),
};

if (file) {
  const real = global.expect;
  const watched = (value, matchers) =>
    new Proxy(matchers, {
      get(of, name) {
        if (!(name in used) || typeof value !== 'number' || Number.isInteger(value)) return of[name];
        return (...bounds) => {
          const share = used[name](value, ...bounds);
          if (share !== null && share * THIRD > 1) {
            const [, at] = /\(?([^\s(]*\.test\.tsx?:\d+)/.exec(new Error().stack.split('\n').slice(1).join('\n')) ?? [];
            const { currentTestName } = real.getState();
            appendFileSync(file, `${JSON.stringify({ at, share, value, name, bounds, currentTestName })}\n`);
          }
          return of[name](...bounds);
        };
      },
    });
  global.expect = Object.assign((value, ...more) => watched(value, real(value, ...more)), real);
}
