import type { Take } from '../../api/takes';

/** A take's state in one line. */
export function takeLine(take: Take): string {
  switch (take.state) {
    case 'waiting':
      return 'waiting to be measured';
    case 'working':
      return take.frames_total ? `measuring: frame ${take.frames_done} of ${take.frames_total}` : 'working';
    case 'failed':
      return take.failure ?? 'could not be measured';
    case 'done':
      return take.line ?? take.text ?? '';
  }
}
