const Sequencer = require('@jest/test-sequencer').default;
const { note, toRun } = require('./passed.cjs');

/** What waits for servers and pages takes longest: it goes first, so that nothing long is left for one worker at the end. */
const FIRST = ['/standin/', '/e2e/', '/server/', '/media/', '/cli/'];
const placeOf = (test) => {
  const place = FIRST.findIndex((folder) => test.path.includes(folder));
  return place < 0 ? FIRST.length : place;
};

module.exports = class extends Sequencer {
  async sort(tests) {
    // By how long each took before, where that is known.
    const sorted = await super.sort(toRun(tests));
    if (sorted.every((t) => t.duration !== undefined)) return sorted;
    return [...sorted].sort((a, b) => placeOf(a) - placeOf(b));
  }

  cacheResults(tests, results) {
    note(tests, results);
    return super.cacheResults(tests, results);
  }
};
