import { gunzipSync } from 'node:zlib';
import { SharedAnswers } from './shared-answers';

let time = 0;
let asked = 0;
let value = 'one';
const work = async () => {
  asked++;
  return { value };
};
beforeEach(() => {
  time = asked = 0;
  value = 'one';
});
const fresh = () => new SharedAnswers(() => time);

test('many readers of one thing have it worked out once, each of several things by itself', async () => {
  const answers = fresh();
  const all = await Promise.all(Array.from({ length: 50 }, () => answers.at('/a', work)));
  expect(asked).toBe(1);
  expect(new Set(all.map((a) => a.body))).toEqual(new Set(['{"value":"one"}']));
  await answers.at('/b', work);
  expect(asked).toBe(2);
});

test('after a change it is worked out anew, also when one was under way; the same content has the same mark', async () => {
  const answers = fresh();
  let go = () => undefined as void;
  const slow = answers.at('/a', async () => {
    await new Promise<void>((resolve) => {
      go = resolve;
    });
    return { value: 'old' };
  });
  answers.changed();
  const after = await answers.at('/a', work);
  go();
  expect((await slow).body).toBe('{"value":"old"}');
  expect((await answers.at('/a', work)).body).toBe(after.body);
  expect(asked).toBe(1);
  answers.changed();
  const same = await answers.at('/a', work);
  expect([asked, same.etag]).toEqual([2, after.etag]);
  value = 'two';
  answers.changed();
  expect((await answers.at('/a', work)).etag).not.toBe(after.etag);
});

test('what shows work under way is given again for a second, anything else until it changes; a failure is not kept', async () => {
  const answers = fresh();
  const times = async (name: string, answer: object, at: number) => {
    time = at;
    const before = asked;
    await answers.at(name, async () => {
      asked++;
      return answer;
    });
    return asked - before;
  };
  const going = { takes: [{ state: 'working' }] },
    done = { takes: [{ state: 'done' }] };
  for (const [at, again] of [
    [0, 1],
    [999, 0],
    [1001, 1],
    [4000, 1],
  ])
    expect(await times('/going', going, at)).toBe(again);
  for (const [at, again] of [
    [5000, 1],
    [34_000, 0],
    [37_000, 1],
  ])
    expect(await times('/done', done, at)).toBe(again);
  await expect(answers.at('/c', () => Promise.reject(new Error('no')))).rejects.toThrow('no');
  expect((await answers.at('/c', work)).body).toContain('one');
});

test('what is long is packed once, and says the same', async () => {
  const answers = fresh();
  expect((await answers.at('/a', work)).packed).toBeNull();
  const long = await answers.at('/long', async () => ({ words: 'trolley and crates '.repeat(400) }));
  expect(long.packed!.length).toBeLessThan(long.body.length / 10);
  expect(gunzipSync(long.packed!).toString('utf8')).toBe(long.body);
});

test('one that has just grown old is given once more while the next is worked out, but never after a change', async () => {
  const answers = fresh();
  let count = 0;
  let go = () => undefined as void;
  const slow = async () => {
    count++;
    if (count > 1)
      await new Promise<void>((resolve) => {
        go = resolve;
      });
    return { state: 'x', n: count, takes: [{ state: 'working' }] };
  };
  const number = async () => (JSON.parse((await answers.at('/a', slow)).body) as { n: number }).n;
  expect(await number()).toBe(1);
  time = 1500;
  expect([await number(), await number(), count]).toEqual([1, 1, 2]);
  go();
  await new Promise(setImmediate);
  expect(await number()).toBe(2);
  // Long after it has grown old, and after a change, whoever asks waits.
  time = 5000;
  const waits = number();
  go();
  expect(await waits).toBe(3);
  time = 6500;
  answers.changed();
  const after = number();
  go();
  expect(await after).toBe(4);
});
