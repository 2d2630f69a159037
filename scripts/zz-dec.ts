import { probeFile } from '/work/main/media/probe';
import { greyFrames } from '/work/main/media/frames';
(async()=>{const t=Date.now();const p=await probeFile('/tmp/syn/long.mp4');const t1=Date.now();let n=0;for await(const f of greyFrames('/tmp/syn/long.mp4',p)){n+=f.data[5]?1:1;}console.log('probe',t1-t,'decode only',Date.now()-t1,n, process.cpuUsage())})();
