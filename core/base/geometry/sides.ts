import type { Side } from '../../report/types';

/** The side across from each. */
export const OPPOSITE: Record<Side, Side> = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' };
