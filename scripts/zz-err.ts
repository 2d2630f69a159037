import { probeFile } from '../media/probe';
import { greyFrames, measureSize } from '../media/frames';
import { LockMeter } from '../core/lock/measure';
import { readFileSync } from 'node:fs';
(async () => {
  const path = process.argv[2];
  const probe = await probeFile(path); const size = measureSize(probe.width, probe.height);
  const m = new LockMeter();
  for await (const p of greyFrames(path, probe)) m.frame(p);
  const r = m.finish({ width: probe.width, height: probe.height, factorX: size.factorX, factorY: size.factorY, fps: 25 });
  const truth = JSON.parse(readFileSync(path.replace('.mp4', '.truth.json'), 'utf8'));
  for (let i = 0; i < truth.length; i += 6) { const t = truth[i]; 
    console.log(i, 't', t.dx.toFixed(2), t.dy.toFixed(2), (t.rotation*57.3).toFixed(3), t.scale.toFixed(4), ' err', (r.path.dx_px[i]!-t.dx).toFixed(3), (r.path.dy_px[i]!-t.dy).toFixed(3), 'rot*half', ((r.path.rotation_deg[i]!/57.29578-t.rotation)*probe.width/2).toFixed(3), 'sc*half', ((r.path.scale[i]!-t.scale)*probe.width/2).toFixed(3)); }
  console.log({ ...r, path: 0, patches: 0 });
})();
