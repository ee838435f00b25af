import type { Language } from '@gemmel/core';

/** A picture of plain pages, with names of files beside the page. */
export interface PagePicture {
  small: string;
  large: string;
  kind: 'photo' | 'video';
  /** Width / height. */
  ratio: number;
  words: string | null;
}

/** What the pages say themselves. */
export interface PageWords {
  play: string;
  stop: string;
  close: string;
  next: string;
  back: string;
  save: string;
  picture: string;
}

/** Text in HTML. */
const html = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);
/** A way to a file in HTML: its parts as an address has them. */
const href = (at: string): string => html(at.split('/').map(encodeURIComponent).join('/'));

/**
 * One page that needs nothing but the files beside it: a gallery, a large view and a show, from a stick and without a line. Without scripts it
 * is still a gallery whose pictures open.
 */
export function galleryPage({
  title,
  days,
  pictures,
  chapters,
  words,
  language,
}: {
  title: string;
  days: string | null;
  pictures: readonly PagePicture[];
  chapters: readonly { at: number; heading: string | null; note: string | null }[];
  words: PageWords;
  language: Language;
}): string {
  const figure = ({ small, large, kind, ratio, words: said }: PagePicture, i: number) =>
    `<a class="one${kind === 'video' ? ' clip' : ''}" style="--r:${Math.min(4, Math.max(0.4, ratio)).toFixed(3)}" href="${href(large)}" data-i="${i}"` +
    ` aria-label="${html([`${words.picture} ${i + 1}`, said].filter(Boolean).join('. '))}"><img src="${href(small)}" alt="" loading="lazy"></a>`;
  const parts: string[] = [];
  let at = 0;
  for (const chapter of [...chapters, { at: pictures.length, heading: null, note: null }]) {
    if (chapter.at > at)
      parts.push(
        `<div class="rows">${pictures
          .slice(at, chapter.at)
          .map((one, i) => figure(one, at + i))
          .join('')}</div>`,
      );
    if (chapter.heading) parts.push(`<h2>${html(chapter.heading)}</h2>`);
    if (chapter.note) parts.push(`<p>${html(chapter.note)}</p>`);
    at = Math.max(at, chapter.at);
  }
  const told = JSON.stringify(
    pictures.map(({ large, kind, words: said }) => [
      large.split('/').map(encodeURIComponent).join('/'),
      kind === 'video' ? 1 : 0,
      said,
    ]),
  ).replace(/</g, '\\u003c');
  return `<!doctype html>
<html lang="${language}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'self' file: data:; style-src 'unsafe-inline'; script-src 'unsafe-inline'; font-src 'self' file:">
<title>${html(title)}</title>
<style>${STYLE}</style>
</head>
<body>
<header><h1>${html(title)}</h1>${days ? `<p>${html(days)}</p>` : ''}<button id="play" hidden>${html(words.play)}</button></header>
<main>${parts.join('\n')}</main>
<dialog id="view" aria-label="${html(words.picture)}">
<div id="stage"></div>
<p id="words" aria-live="polite"></p>
<nav><button id="back">${html(words.back)}</button><button id="run">${html(words.play)}</button><a id="save" download>${html(words.save)}</a><button id="next">${html(words.next)}</button><button id="close">${html(words.close)}</button></nav>
</dialog>
<script>${script(told, words)}</script>
</body>
</html>
`;
}

const STYLE = `
@font-face{font-family:Fraunces;src:url(fonts/Fraunces.ttf)}
@font-face{font-family:Figtree;src:url(fonts/Figtree.ttf)}
:root{color-scheme:light dark;--paper:#F6F1E7;--ink:#1E2C2B;--soft:#5B6965;--juniper:#1C5A50;--card:#FFFBF3}
@media(prefers-color-scheme:dark){:root{--paper:#131A19;--ink:#F0EADD;--soft:#A7B3AD;--juniper:#7CC2AC;--card:#1B2423}}
*{box-sizing:border-box}
body{margin:0;background:var(--paper);color:var(--ink);font:16px/1.45 Figtree,sans-serif}
header,main{max-width:1180px;margin:0 auto;padding:16px}
h1,h2{font:600 27px/1.15 Fraunces,serif;margin:.3em 0}
h2{font-size:22px;margin-top:1.4em}
p{margin:.3em 0;color:var(--soft)}
.rows{display:flex;flex-wrap:wrap;gap:3px;margin:10px 0}
.rows::after{content:"";flex:10 1 0}
.one{flex:calc(var(--r)*100) 1 calc(var(--r)*150px);position:relative;display:block;border-radius:4px;overflow:hidden;aspect-ratio:var(--r)}
.one img{width:100%;height:100%;object-fit:cover;display:block}
.clip::after{content:"\\25B6";position:absolute;left:8px;bottom:6px;color:#fff;text-shadow:0 1px 3px #000}
button,#save{font:600 16px Figtree,sans-serif;min-height:48px;padding:0 18px;border-radius:14px;border:1px solid var(--juniper);background:none;color:var(--juniper);cursor:pointer;text-decoration:none;display:inline-flex;align-items:center}
#play{background:var(--juniper);color:var(--card)}
:focus-visible{outline:3px solid #C97F12;outline-offset:2px}
dialog{border:0;padding:0;margin:0;width:100vw;height:100vh;max-width:none;max-height:none;background:#131A19;color:#F0EADD}
dialog[open]{display:flex;flex-direction:column}
#stage{flex:1;min-height:0;display:flex;align-items:center;justify-content:center}
#stage img,#stage video{max-width:100%;max-height:100%;object-fit:contain}
#words{text-align:center;color:#F0EADD;padding:0 16px;min-height:1.5em}
nav{display:flex;flex-wrap:wrap;gap:8px;justify-content:center;padding:12px}
nav button,#save{color:#7CC2AC;border-color:#7CC2AC}
`;

const script = (told: string, words: PageWords): string => `(function(){
var P=${told},S=${JSON.stringify([words.play, words.stop]).replace(/</g, '\\u003c')},at=0,timer=0;
var $=function(id){return document.getElementById(id)},view=$('view'),stage=$('stage');
function show(i){at=(i+P.length)%P.length;var p=P[at];stage.textContent='';
var el=document.createElement(p[1]?'video':'img');el.src=p[0];
if(p[1]){el.controls=true;el.autoplay=true;el.onended=function(){if(timer)go(1)}}else el.alt=p[2]||'';
stage.appendChild(el);$('words').textContent=p[2]||'';$('save').href=p[0];
if(timer)wait();if(P.length>1&&!P[(at+1)%P.length][1])new Image().src=P[(at+1)%P.length][0]}
function go(n){show(at+n)}
function wait(){clearTimeout(timer);timer=setTimeout(function(){P[at][1]?wait():go(1)},5000)}
function run(on){clearTimeout(timer);timer=0;$('run').textContent=S[on?1:0];if(on)wait()}
function open(i){if(!view.open)view.showModal();show(i)}
function close(){run(false);stage.textContent='';view.close()}
document.addEventListener('click',function(e){var a=e.target.closest&&e.target.closest('a.one');if(a){e.preventDefault();open(+a.dataset.i)}});
$('next').onclick=function(){go(1)};$('back').onclick=function(){go(-1)};$('close').onclick=close;
$('run').onclick=function(){run(!timer)};
view.addEventListener('cancel',function(e){e.preventDefault();close()});
document.addEventListener('keydown',function(e){if(!view.open)return;if(e.key==='ArrowRight')go(1);else if(e.key==='ArrowLeft')go(-1)});
var x=null;stage.addEventListener('pointerdown',function(e){x=e.clientX});
stage.addEventListener('pointerup',function(e){if(x!==null&&Math.abs(e.clientX-x)>40)go(e.clientX<x?1:-1);x=null});
if(P.length){$('play').hidden=false;$('play').onclick=function(){open(0);run(true)}}
})()`;
