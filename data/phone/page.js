'use strict';
// The page shows what it is told and asks for three things: to read a photo, to pause a machine, and
// a hooping sheet. The key stays in the part of the address that is never sent.
const $ = id => document.getElementById(id);
const key = location.hash.slice(1);
const head = { Authorization: 'Bearer ' + key };
const SILENT_MS = 16000, AGAIN_MS = [1000, 2000, 5000];
const SHAPES = {  // a disc with a tick, a triangle, a square with a cross: told apart without colour
  ready: 'M12 1a11 11 0 1 0 .01 0zM10.4 17.2 5.6 12.4l1.9-1.9 2.9 2.9 6.1-6.1 1.9 1.9z',
  check: 'M12 1 23.5 22H.5zM10.9 9v6.4h2.2V9zm0 8v2.2h2.2V17z',
  stop: 'M2 2h20v20H2zM7.6 5.7 5.7 7.6l4.4 4.4-4.4 4.4 1.9 1.9 4.4-4.4 4.4 4.4 1.9-1.9-4.4-4.4 4.4-4.4-1.9-1.9-4.4 4.4z'
};
let words = {}, state = null, heardAt = 0, tries = 0, troubles = '', audio = null, upload = null;

const say = (key, ...with_) => with_.reduce((t, v, i) => t.replace('%' + (i + 1), v), words[key] || key);
const show = (node, on) => { node.hidden = !on; };
const text = (node, words_) => { if (node.textContent !== words_) node.textContent = words_; };
function make(tag, kind, words_) {
  const node = document.createElement(tag);
  if (kind) node.className = kind;
  if (words_ !== undefined) node.textContent = words_;
  return node;
}

// --- the thread of three knots
const TABS = ['scan', 'machines', 'sheets'];
function go(tab) {
  for (const t of TABS) {
    show($(t), t === tab);
    $('tab-' + t).setAttribute('aria-selected', String(t === tab));
    $('tab-' + t).tabIndex = t === tab ? 0 : -1;
  }
  if (tab === 'sheets') showSheets();
}
for (const t of TABS) {
  $('tab-' + t).addEventListener('click', () => go(t));
  $('tab-' + t).addEventListener('keydown', e => {
    const step = { ArrowRight: 1, ArrowLeft: TABS.length - 1 }[e.key];
    if (!step) return;
    const to = TABS[(TABS.indexOf(t) + step) % TABS.length];
    go(to);
    $('tab-' + to).focus();
  });
}

// --- what is told
function wrongKey(status) {
  text($('wrong'), status === 429 ? say('many_keys') : say('wrong_key'));
  show($('wrong'), true);
  show($('all'), false);  // nothing here can be used, and nothing of before stays in sight
  show($('call'), false);
  text($('job'), '');
}
function clock(iso) { return iso ? iso.slice(11, 16) : ''; }
function ago(ms) {
  const s = Math.round(ms / 1000);
  return s < 90 ? say('seconds', s) : say('minutes', Math.round(s / 60));
}
function showLink() {
  const age = Date.now() - heardAt;
  const old = !heardAt || age > SILENT_MS;
  $('link').classList.toggle('old', old);
  text($('link'), !heardAt ? say('connecting') : old ? say('as_it_was', ago(age)) : say('live'));
}
function take(told) {
  state = told;
  show($('wrong'), false);
  show($('all'), true);
  text($('job'), told.job.title || say('no_title'));
  const call = told.needs_you[0];
  show($('call'), !!call);
  if (call) {
    const machine = told.machines.find(m => m.id === call.machine);
    text($('call'), say('call', clock(call.at), machine ? machine.name : '', call.sentence));
  }
  showHoopings();
  showMachines();
  tellTrouble();
  renewVerdict();
}
function options(select, first) {
  const of = state.hooping ? state.hooping.of : 0;
  const wanted = (first ? 1 : 0) + of;
  if (select.options.length === wanted) return;
  const was = select.value;
  select.replaceChildren();
  if (first) select.append(new Option(first, ''));
  for (let i = 1; i <= of; ++i) select.append(new Option(say('hooping', i, of), i));
  if ([...select.options].some(o => o.value === was)) select.value = was;
}
function showHoopings() {
  options($('of'), say('by_tags'));
  options($('sheetOf'), null);
  const h = state.hooping;
  text($('known'), !h ? say('no_plan')
    : h.sentence ? say('known', h.index, h.frame, h.sentence) : say('in_hand', h.index, h.of, h.frame));
}
// A card a machine, made once and changed where something changed: what a thumb is on stays there.
const cards = new Map();
function cardOf(m) {
  if (cards.has(m.id)) return cards.get(m.id);
  const card = { node: make('article', 'machine'), name: make('h2'), doing: make('p'), trouble: make('p', 'trouble'),
    bar: make('progress'), part: make('p'), call: make('p'), next: make('p', 'next'), swatch: make('span', 'swatch'),
    ready: make('span'), pause: make('button') };
  const top = make('div', 'head');
  top.append(card.name, card.doing);
  card.next.append(card.swatch, card.ready);
  card.node.append(top, card.trouble, card.bar, card.part, card.call, card.next, card.pause);
  card.pause.dataset.pause = m.id;
  card.pause.addEventListener('click', () => pauseMachine(m.id));
  cards.set(m.id, card);
  return card;
}
function showMachine(m) {
  const c = cardOf(m);
  text(c.name, m.name);
  text(c.doing, say('doing_' + m.doing));
  show(c.trouble, !!m.trouble);
  text(c.trouble, m.trouble ? say('trouble_' + m.trouble) : '');
  show(c.bar, m.of > 0);
  c.bar.max = m.of || 1;
  c.bar.value = m.row;
  c.bar.setAttribute('aria-label', say('progress', m.name));
  show(c.part, m.of > 0);
  text(c.part, m.of ? say('part', Math.floor(100 * m.row / m.of)) +
    (m.minutes_left === null ? '' : say('left', Math.ceil(m.minutes_left))) : '');
  show(c.call, !!m.needs_you_at && !m.trouble);
  text(c.call, m.needs_you_at ? say('needs_you', clock(m.needs_you_at), m.needs_you_for) : '');
  show(c.next, !!m.next_thread);
  c.swatch.style.background = m.next_thread || 'none';
  text(c.ready, m.next_thread ? say('have_ready', m.next_thread_name) : '');
  show(c.pause, m.doing === 'sewing');
  text(c.pause, say('pause', m.name));
  return c.node;
}
function showMachines() {
  const list = $('list'), ids = state.machines.map(m => m.id);
  for (const id of [...cards.keys()]) if (!ids.includes(id)) { cards.get(id).node.remove(); cards.delete(id); }
  show($('none'), !ids.length);
  state.machines.forEach((m, i) => {
    const node = showMachine(m);
    if (list.children[i] !== node) list.insertBefore(node, list.children[i] || null);
  });
}
async function pauseMachine(id) {
  try {
    const r = await fetch('/api/pause?machine=' + encodeURIComponent(id), { method: 'POST', headers: head });
    if (!r.ok) text($('link'), (await r.json()).error);
  } catch (e) { showLink(); }
}
function tellTrouble() {
  const now = state.machines.filter(m => m.trouble).map(m => m.id + m.trouble).join();
  if (now && now !== troubles) {
    if (navigator.vibrate) navigator.vibrate([300, 120, 300]);
    beep();
    go('machines');
  }
  troubles = now;
}
function beep() {
  if (!audio) return;
  for (const [at, tone] of [[0, 660], [0.25, 880]]) {
    const o = audio.createOscillator();
    o.frequency.value = tone;
    o.connect(audio.destination);
    o.start(audio.currentTime + at);
    o.stop(audio.currentTime + at + 0.2);
  }
}
$('sound').addEventListener('click', () => {
  const on = !audio;
  if (audio) audio.close();
  audio = on ? new AudioContext() : null;
  $('sound').setAttribute('aria-pressed', String(on));
  text($('sound'), say(on ? 'sound_off' : 'sound_on'));
  beep();
});

// --- the wire: events as they come; over a bad link it is asked anew, and the page says how old it is
async function listen() {
  const gone = new AbortController();
  let watch = setTimeout(() => gone.abort(), SILENT_MS);
  try {
    const r = await fetch('/api/events', { headers: head, signal: gone.signal });
    if (r.status === 401 || r.status === 429) { wrongKey(r.status); return again(2); }
    if (!r.ok) return again(2);
    const reader = r.body.getReader(), letters = new TextDecoder();
    let held = '';
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      clearTimeout(watch);
      watch = setTimeout(() => gone.abort(), SILENT_MS);
      heardAt = Date.now();
      tries = 0;
      held += letters.decode(value, { stream: true });
      const parts = held.split('\n\n');
      held = parts.pop();
      for (const part of parts) if (part.startsWith('data: ')) take(JSON.parse(part.slice(6)));
      showLink();
    }
  } catch (e) { /* told by its age */ } finally { clearTimeout(watch); }
  again(0);
}
function again(least) {
  setTimeout(listen, AGAIN_MS[Math.min(AGAIN_MS.length - 1, Math.max(least, tries++))]);
}

// --- a scan
function verdict(kind, word, sentence, advice, hooping) {
  const v = $('verdict');
  v.className = kind;
  $('shape').setAttribute('d', SHAPES[kind] || SHAPES.stop);
  text($('statusWord'), word);
  text($('verdictOf'), hooping ? say('hooping', hooping, state.hooping ? state.hooping.of : hooping) : '');
  text($('sentence'), sentence);
  $('advice').replaceChildren(...advice.map(a => make('li', '', a)));
  show(v, true);
  v.scrollIntoView({ block: 'nearest' });
}
async function showPicture(hooping) {
  show($('picture'), false);
  show($('legend'), false);
  const r = await fetch('/api/picture?hooping=' + hooping, { headers: head });
  if (!r.ok) return;
  URL.revokeObjectURL($('picture').src);
  $('picture').src = URL.createObjectURL(await r.blob());
  $('picture').alt = say('picture_alt');
  show($('picture'), true);
  show($('legend'), true);
}
// What stands on the card is of the hooping as it was answered: when that is no longer so, the card says
// what is.
let carded = null;
function renewVerdict() {
  const now = carded && (state.hoopings || []).find(h => h.index === carded.hooping);
  if (!carded || (now && now.sentence === carded.sentence)) return;
  show($('picture'), false);
  show($('legend'), false);
  if (now && now.verdict) verdict(now.verdict, say('status_' + now.verdict), now.sentence, [], now.index);
  else verdict('unread', say('not_measured'), (now && now.sentence) || say('measure_again'), [], carded.hooping);
  carded = { hooping: carded.hooping, sentence: now ? now.sentence : null };
}
function takeAnswer(request) {
  show($('sending'), false);
  $('take').classList.remove('off');
  let answer = {};
  try { answer = JSON.parse(request.responseText); } catch (e) { answer = {}; }
  if (request.status === 401 || request.status === 429) wrongKey(request.status);
  if (request.status === 200) {
    const missing = answer.missing.map(m => say('missing', m.id, m.reason));
    const advice = answer.advice.filter(a => !answer.missing.some(m => a.includes(m.id)));
    verdict(answer.status, say('status_' + answer.status), answer.sentence, missing.concat(advice), answer.hooping);
    carded = { hooping: answer.hooping, sentence: answer.sentence };
    showPicture(answer.hooping);
  } else {
    show($('picture'), false);
    show($('legend'), false);
    carded = null;
    verdict('unread', say('unread'), answer.error || say('link_lost'), [], 0);
  }
}
$('photo').addEventListener('change', () => {
  const photo = $('photo').files[0];
  $('photo').value = '';
  if (!photo || upload) return;
  show($('verdict'), false);
  show($('sending'), true);
  $('take').classList.add('off');
  $('sent').value = 0;
  text($('sentWords'), say('uploading'));
  upload = new XMLHttpRequest();
  const of = $('of').value;
  upload.open('POST', '/api/scan' + (of ? '?hooping=' + of : ''));
  upload.setRequestHeader('Authorization', head.Authorization);
  upload.setRequestHeader('Content-Type', photo.type || 'application/octet-stream');
  upload.upload.onprogress = e => { if (e.lengthComputable) $('sent').value = 100 * e.loaded / e.total; };
  upload.upload.onload = () => { $('sent').removeAttribute('value'); text($('sentWords'), say('reading')); };
  upload.onloadend = () => { const r = upload; upload = null; takeAnswer(r); };
  upload.send(photo);
});
$('take').addEventListener('keydown', e => { if (e.key === 'Enter' || e.key === ' ') $('photo').click(); });
$('stop').addEventListener('click', () => { if (upload) upload.abort(); });

// --- hooping sheets
async function showSheets() {
  const of = $('sheetOf').value || (state && state.hooping ? String(state.hooping.index) : '');
  if (!of) return $('pages').replaceChildren(make('p', '', say('no_plan')));
  $('sheetOf').value = of;
  const list = await fetch('/api/sheet', { headers: head });
  if (!list.ok) return $('pages').replaceChildren(make('p', '', (await list.json()).error));
  const entry = (await list.json()).sheets.find(s => String(s.hooping) === of);
  const pages = [];
  for (let page = 1; entry && page <= entry.pages; ++page) {
    const r = await fetch('/api/sheet?hooping=' + of + '&page=' + page, { headers: head });
    if (!r.ok) break;
    const image = make('img');
    image.src = URL.createObjectURL(await r.blob());
    image.alt = say('sheet_alt', of, page, entry.pages);
    image.addEventListener('click', () => image.classList.toggle('near'));
    pages.push(image);
  }
  if ($('sheetOf').value !== of) return;
  for (const old of $('pages').querySelectorAll('img')) URL.revokeObjectURL(old.src);
  $('pages').replaceChildren(...pages);
}
$('sheetOf').addEventListener('change', showSheets);

// --- begin
(async () => {
  words = await (await fetch('/words.json')).json();
  document.documentElement.lang = words.language;
  for (const node of document.querySelectorAll('[data-w]')) text(node, say(node.dataset.w));
  text($('trust'), location.protocol === 'https:' ? say('own_certificate') : '');
  go('scan');
  showLink();
  setInterval(showLink, 1000);
  if (!key) { wrongKey(401); return; }
  listen();
})();
