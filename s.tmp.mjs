import { readdirSync, readFileSync } from 'node:fs';
import { playWalk, readProject, sourceOf, stageOf } from './dist/core.js';
const H='examples/harbour/';const read=f=>sourceOf(f,readFileSync(f,'utf8'));
const p=readProject(read(H+'cavrin.yaml'),readdirSync(H+'walks').map(n=>read(H+'walks/'+n)));
const stage=stageOf(p.policy);
const busy=p.walks.find(w=>w.name.startsWith('A busy'));
for(let r=0;r<5;r++){let m=0;const t2=performance.now();while(performance.now()-t2<1500){playWalk(stage,busy);m+=busy.steps.length}console.log('busy',Math.round(m/1.5))}
