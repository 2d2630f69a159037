import type { PlannedTrick } from '../../plan/types';

/** How a pass is seen over its empty picture, where neither a line nor a cloth nor something solid parts the two. */
export type OverPlate = 'mixed' | 'faded' | 'figure' | 'hung' | 'lifted' | 'pulled' | 'edge' | 'alone';

/** How a trick of one pass and its plate is finished, by what it asks of them. */
export function overPlateOf({ trick }: PlannedTrick): OverPlate {
  const asks = (kind: string) => trick.requirements.some((r) => r.kind === kind);
  const plates = trick.parts.filter((p) => p.role === 'plate').map((p) => p.key);
  if (asks('zone-till-pulled')) return 'pulled';
  if (asks('drifts-little')) return 'hung';
  if (asks('cut-out-frames')) return 'lifted';
  if (asks('zone-free')) return 'faded';
  // Where nothing is asked of the plate it is there in case; what nobody asks anything of is cut out.
  if (!trick.requirements.some((r) => r.parts.some((key) => plates.includes(key))))
    return asks('light-on-beat') ? 'alone' : 'figure';
  if (asks('beats-marked')) return 'edge';
  return asks('one-roll') ? 'figure' : 'mixed';
}
