import { probeFile } from '/work/main/media/probe';
import { greyFrames, measureSize } from '/work/main/media/frames';
import { CameraTracker } from '/work/main/core/lock/track';
import { refinePath } from '/work/main/core/lock/refine';
import { greatestDisplacement, IDENTITY } from '/work/main/core/geometry/similarity';
import { readFileSync, existsSync } from 'node:fs';
(async () => {
for (const path of process.argv.slice(2)) {
  const probe = await probeFile(path);
  const size = measureSize(probe.width, probe.height);
  const t = new CameraTracker();
  let n = 0; const t0 = Date.now(); let cpu = 0;
  for await (const p of greyFrames(path, probe)) { const a = performance.now(); t.frame(p); cpu += performance.now() - a; n++; }
  const t1 = Date.now();
  const path2 = refinePath(t.anchors, t.records, size.width, size.height);
  const t2 = Date.now();
  const f = size.factorX;
  let peak = 0, pf = -1;
  path2.poses.forEach((p, i) => { if (p) { const d = greatestDisplacement(p, IDENTITY, size.width, size.height) * f; if (d > peak) { peak = d; pf = i; } } });
  const sig = path2.cornerSigma.filter((x): x is number => x !== null).sort((a,b)=>a-b);
  const share = path2.stillShare.filter((x): x is number => x !== null).sort((a,b)=>a-b);
  console.log(path.split('/').pop(), `${probe.width}x${probe.height} n=${n} anchors=${t.anchors.length} patches=${t.anchors[0]?.grid.patches.length}/${t.anchors[0]?.grid.spots} grain=${t.anchors[0]?.grid.grain.toFixed(2)} ref=${path2.referenceFrame}`,
    `ms/frame wall ${((t1-t0)/n).toFixed(2)} track ${(cpu/n).toFixed(2)} refine ${(t2-t1)}ms`);
  console.log('  measured', path2.poses.filter(Boolean).length, 'peak', peak.toFixed(3), '@', pf, 'sigma med', (sig[sig.length>>1]*f)?.toFixed(4), 'p95', (sig[Math.floor(sig.length*.95)]*f)?.toFixed(4), 'share med', share[share.length>>1]?.toFixed(2), 'min', share[0]?.toFixed(2));
  const truthFile = path.replace(/\.\w+$/, '.truth.json');
  if (existsSync(truthFile)) {
    const truth = JSON.parse(readFileSync(truthFile, 'utf8')); let ss = 0, m = 0, worst = 0, ssn=0;
    path2.poses.forEach((p, i) => { if (!p) return; const q = truth[i]; const d = greatestDisplacement({ ...p, dx: p.dx*f, dy: p.dy*f }, q, probe.width, probe.height); ss += d*d; m++; worst = Math.max(worst, d); const s=(path2.cornerSigma[i]??0)*f; ssn += s*s; });
    console.log(`  ERR worst-corner rms ${Math.sqrt(ss/m).toFixed(4)} max ${worst.toFixed(3)}  claimed ${Math.sqrt(ssn/m).toFixed(4)}`);
  }
}
})();
