import { writeFile } from 'node:fs/promises';
import { UnusableMedia } from '../../../media/errors';
import type { Feed } from '../../../media/feeds/feed';
import { FEEDS } from '../../../media/feeds/feeds';
import { serveFeeds } from '../../../media/feeds/measuring-thread';
import { openRecording } from '../../../media/ffmpeg/recording';
import type { Tiny } from './measure';

/** Feeds the tiny measure. A wish for 13 frames is refused, one for 17 ends the thread. */
const feedTiny: Feed<{ least: number }, Tiny> = async ({ takes: [take], wish }, { signal, progress, fresh }) => {
  if (wish.least === 13) throw new UnusableMedia('Thirteen frames bring bad luck. Ask for more.', 'luck');
  if (wish.least === 17) process.exit(1);
  const recording = await openRecording(take.path, take.name, { signal });
  const levels: number[] = [];
  for await (const { luma } of recording.pictures()) {
    levels.push(luma.data[0]);
    progress(levels.length, take.facts?.media.frame_count ?? 0, 'counting');
  }
  await recording.close();
  await writeFile(fresh('txt'), String(levels.length));
  return { frames: levels.length, path: { levels } };
};

export default serveFeeds({ ...FEEDS, tiny: feedTiny });
