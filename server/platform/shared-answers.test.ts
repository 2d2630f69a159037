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

test('no answer is given again after a second, and a failure is not kept', async () => {
  const answers = fresh();
  await answers.at('/a', work);
  time = 999;
  await answers.at('/a', work);
  expect(asked).toBe(1);
  time = 1001;
  await answers.at('/a', work);
  expect(asked).toBe(2);
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
