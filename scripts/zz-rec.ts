import { recordTake } from '../standin/record';
import { writeFileSync } from 'node:fs';
(async () => {
  for (const [scene, tripod, crossing] of [['kiosk','knock','nobody'],['pillar','still','left-to-right'],['bench','handheld','stands'],['kiosk','drift','stands'],['bench','breathing','stands']] as const) {
    const t = Date.now(); const name = `/tmp/syn/si-${scene}-${tripod}`;
    const truth = await recordTake({ scene, tripod, crossing, seconds: 4, fps: 25, width: 1280, grain: 2, seed: 5 }, name + '.mp4');
    writeFileSync(name + '.truth.json', JSON.stringify(truth.path.dx_px.map((dx, i) => ({ dx, dy: truth.path.dy_px[i], rotation: truth.path.rotation_deg[i] * Math.PI / 180, scale: truth.path.scale[i] }))));
    console.log(name, Date.now() - t, 'ms');
  }
})();
