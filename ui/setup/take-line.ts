import type { Take } from '../data/types';

/** A take's state in one line. */
export function takeLine(take: Take): string {
  switch (take.state) {
    case 'waiting':
      return 'waiting to be measured';
    case 'measuring':
      return take.frames_total ? `measuring: frame ${take.frames_done} of ${take.frames_total}` : 'measuring';
    case 'failed':
      return take.failure ?? 'could not be measured';
    case 'measured':
      return take.line ?? take.text ?? '';
  }
}
