/**
 * A thread that runs ffmpeg and reads its raw pictures into shared memory, so that decoding goes on while others compute.
 *
 * workerData: `command` with its arguments; `outputs`, 1 (pipe 1) to 3 (pipes 3 and 5 too); `silentSeconds`; `seconds`. What
 * ffmpeg says of its progress is read from pipe 4.
 *
 * Messages in: once, where pictures go: { `sizes`, bytes of one picture on each output; `slots`, pictures of each kept
 * at a time; `shared`, a SharedArrayBuffer of all slots, output by output; `counts`, an Int32Array in shared memory:
 * pictures read on each output, then pictures used up, then whether the other side waits for a picture, and whether this
 * side waits for room (a message wakes a thread, which costs more than a small picture) }; 'used' when a picture was used
 * up and room is waited for; 'stop'.
 *
 * Messages out: 'more' when a picture is whole that is waited for; { end: stderr's first lines, code, written: pictures
 * that ffmpeg says it wrote, or null } when ffmpeg has ended and all that came of it lies in the slots; { failed: text }
 * when it could not be started.
 */

const { parentPort, workerData } = require('node:worker_threads');
const { spawn } = require('node:child_process');

const { command, args, outputs, silentSeconds, seconds } = workerData;
const pipe = (isRead) => (isRead ? 'pipe' : 'ignore');
const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe', pipe(outputs > 1), 'pipe', pipe(outputs > 2)] });
const end = () => child.kill('SIGKILL');
const silent = setTimeout(end, silentSeconds * 1000);
const overall = seconds ? setTimeout(end, seconds * 1000) : undefined;
let errors = '';
child.stderr.on('data', (d) => {
  silent.refresh();
  if (errors.length < 4000) errors += d.toString('utf8');
});

let written = null;
child.stdio[4].on('data', (d) => {
  const last = d
    .toString('latin1')
    .match(/frame=\s*(\d+)/g)
    ?.pop();
  if (last) written = Number(last.slice(6));
});

const streams = [child.stdout, child.stdio[3], child.stdio[5]].slice(0, outputs);
/** What came and has no room yet, from each output. */
const waiting = streams.map(() => []);
/** Puts a chunk of an output into its slots as far as there is room, and gives what is left over: all of it until the slots are known. */
let put = (i, chunk) => chunk;

streams.forEach((stream, i) => {
  stream.on('data', (chunk) => {
    silent.refresh();
    const rest = waiting[i].length ? chunk : put(i, chunk);
    if (!rest) return;
    waiting[i].push(rest);
    stream.pause();
  });
});

/** Goes on with what waits for room. */
function goOn() {
  // Whoever computes slowly does not make ffmpeg look silent.
  silent.refresh();
  streams.forEach((stream, i) => {
    while (waiting[i].length) {
      const rest = put(i, waiting[i][0]);
      if (rest) {
        waiting[i][0] = rest;
        return;
      }
      waiting[i].shift();
    }
    if (stream.isPaused()) stream.resume();
  });
  tellEnd();
}

/** How ffmpeg ended; null while it runs. */
let closed = null;

/** Says that it is the end once nothing waits for room any more: ffmpeg may have ended long before its pictures are used up. */
function tellEnd() {
  if (!closed || waiting.some((chunks) => chunks.length > 0)) return;
  parentPort.postMessage({ end: errors, code: closed.code, written });
  closed = null;
}

function intoSlots({ sizes, slots, shared, counts }) {
  const starts = sizes.map((_, i) => sizes.slice(0, i).reduce((sum, n) => sum + n * slots, 0));
  const filled = sizes.map(() => 0);
  const USED = sizes.length,
    THEY_WAIT = USED + 1,
    WE_WAIT = USED + 2;
  const whole = () => Math.min(...sizes.map((_, i) => Atomics.load(counts, i)));
  return (i, chunk) => {
    let at = 0;
    while (at < chunk.length) {
      const done = Atomics.load(counts, i);
      if (done - Atomics.load(counts, USED) >= slots) {
        // Room may have been made just before it was said that it is waited for.
        Atomics.store(counts, WE_WAIT, 1);
        if (done - Atomics.load(counts, USED) >= slots) return chunk.subarray(at);
      }
      const take = Math.min(sizes[i] - filled[i], chunk.length - at);
      new Uint8Array(shared, starts[i] + (done % slots) * sizes[i] + filled[i], take).set(
        chunk.subarray(at, at + take),
      );
      filled[i] += take;
      at += take;
      if (filled[i] === sizes[i]) {
        filled[i] = 0;
        Atomics.add(counts, i, 1);
        if (whole() > Atomics.load(counts, USED) && Atomics.exchange(counts, THEY_WAIT, 0))
          parentPort.postMessage('more');
      }
    }
    return null;
  };
}

parentPort.on('message', (word) => {
  if (word === 'stop') {
    end();
    // A stream that nobody reads any more would keep the child from closing.
    for (const stream of streams) stream.destroy();
    for (const chunks of waiting) chunks.length = 0;
    put = () => null;
    tellEnd();
    return;
  }
  if (word !== 'used') put = intoSlots(word);
  goOn();
});

child.on('error', (error) => parentPort.postMessage({ failed: error.message, code: error.code }));
child.on('close', (code) => {
  clearTimeout(silent);
  clearTimeout(overall);
  closed = { code };
  tellEnd();
});
