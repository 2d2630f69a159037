import { probeFile } from '../media/probe';
import { greyFrames } from '../media/frames';
import { RepeatMeter } from '../core/media-facts/facts';
(async () => { for (const f of process.argv.slice(2)) { const p = await probeFile(f); const m = new RepeatMeter(); for await (const g of greyFrames(f, p)) m.frame(g);
 const a = m as any; console.log(f.split('/').pop(), a.differences.slice(30, 62).map((d: number, i: number) => d.toFixed(2) + '/' + a.equalShares[30 + i].toFixed(2)).join(' ')); } })();
