import type { MeasuredTake } from '../../core/take/measured-take';
import { openTake } from '../feeds/measure-take';

/** A take that several things are asked of, measured once, with whoever is in outlined finely. */
export const outlinedTake = (path: string): Promise<MeasuredTake> => openTake(path, { fine: true });
