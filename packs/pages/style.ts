import { readFileSync } from 'node:fs';
import { DAY } from '../../core/packs/colours';

/** The typefaces, in the page itself: it is read without a network. */
function face(family: string, weight: number, file: string): string {
  const font = readFileSync(require.resolve(file)).toString('base64');
  return `@font-face{font-family:"${family}";font-weight:${weight};src:url(data:font/ttf;base64,${font}) format("truetype")}`;
}

const SANS = '@expo-google-fonts/atkinson-hyperlegible-next';
const MONO = '@expo-google-fonts/martian-mono';

let faces: string | null = null;
const allFaces = () =>
  (faces ??= [
    face('Atkinson', 400, `${SANS}/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf`),
    face('Atkinson', 700, `${SANS}/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf`),
    face('Martian', 400, `${MONO}/400Regular/MartianMono_400Regular.ttf`),
  ].join(''));

/** The style of every page, for the screen and for paper. */
export function pageStyle(): string {
  return `${allFaces()}
:root{color-scheme:light}
*{box-sizing:border-box}
body{margin:0;background:${DAY.background};color:${DAY.ink};font:17px/1.5 Atkinson,sans-serif}
main{max-width:1040px;margin:0 auto;padding:24px 20px 64px}
h1{font-size:34px;line-height:1.15;margin:8px 0 4px}
h2{font-size:22px;margin:40px 0 8px;border-top:1px solid ${DAY.line};padding-top:16px}
h3{font-size:18px;margin:24px 0 4px}
p{margin:6px 0}
a{color:${DAY.ink}}
code,.mono,td.n,th.n{font-family:Martian,monospace;font-size:13px}
.soft{color:${DAY.soft}}
.verdict{display:flex;gap:12px;align-items:center;font-weight:700;font-size:22px;margin:12px 0}
.verdict svg,td svg{flex:none;vertical-align:-5px}
.holds{color:${DAY.holds}}.workable{color:${DAY.workable}}.reshoot{color:${DAY.reshoot}}.unjudged{color:${DAY.unjudged}}
.scroll{overflow-x:auto}
table{border-collapse:collapse;width:100%;margin:8px 0}
th,td{text-align:left;vertical-align:top;padding:7px 12px 7px 0;border-bottom:1px solid ${DAY.line}}
th{font-weight:700;font-size:14px;color:${DAY.soft}}
td.n,th.n{white-space:nowrap}
.path{display:inline-block;min-width:18ch;overflow-wrap:anywhere}
ol{padding-left:28px}
ol li{margin:6px 0;padding-left:4px}
.shots{display:grid;grid-template-columns:repeat(auto-fill,minmax(min(100%,440px),1fr));gap:20px}
figure{margin:0;break-inside:avoid}
.frame{position:relative}
.frame img{display:block;width:100%;height:auto;background:#000}
.frame svg{position:absolute;inset:0;width:100%;height:100%}
figcaption{font-size:15px;color:${DAY.soft};margin-top:4px}
.big{font:400 30px/1.2 Martian,monospace}
.numbers{display:flex;flex-wrap:wrap;gap:8px 40px;margin:12px 0}
.numbers span{display:block;font-size:14px;color:${DAY.soft}}
@media screen and (max-width:720px){table{min-width:680px}}
@page{size:A4;margin:14mm}
@media print{body{background:#fff;font-size:11pt}main{max-width:none;padding:0}
h2{break-after:avoid}tr,li{break-inside:avoid}.shots{grid-template-columns:1fr 1fr}}`;
}
