// The rolling picture: a row of triggers, a row for each sound that was heard, thin lines from cause to play.

const picture = {seconds: 12, triggers: [], plays: new Map()};

function isEvent(decision) {
  return decision.decision !== "ended" && decision.decision !== "stolen" && decision.cause > 0;
}

function remember(decision) {
  if (decision.play > 0 && decision.decision === "played")
    picture.plays.set(decision.play, {sound: decision.sound, from: decision.frame, cause: decision.cause, levels: []});
  const play = picture.plays.get(decision.play);
  if (play && decision.decision === "ended") play.to = decision.frame;
  if (isEvent(decision) && decision.trigger !== "project" && picture.triggers.at(-1)?.cause !== decision.cause)
    picture.triggers.push({frame: decision.frame, cause: decision.cause, kind: decision.trigger, on: decision.on});
}

function rememberLevels(levels) {
  for (const [number, frame, peak] of levels) picture.plays.get(number)?.levels.push([frame, peak]);
}

function forget(oldest) {
  while (picture.triggers.length > 0 && picture.triggers[0].frame < oldest) picture.triggers.shift();
  for (const [number, play] of picture.plays) {
    if (play.to !== undefined && play.to < oldest) picture.plays.delete(number);
    while (play.levels.length > 0 && play.levels[0][0] < oldest) play.levels.shift();
  }
}

/// The clock of the engine, continued between two events.
const clock = {frame: 0, seen: 0};
function frameNow() {
  return clock.frame + Math.min(1, (performance.now() - clock.seen) / 1000) * rate;
}

function drawPicture() {
  requestAnimationFrame(drawPicture);
  const canvas = at("picture");
  const scale = window.devicePixelRatio || 1, width = canvas.clientWidth, height = canvas.clientHeight;
  if (canvas.width !== Math.round(width * scale) || canvas.height !== Math.round(height * scale)) {
    canvas.width = Math.round(width * scale);
    canvas.height = Math.round(height * scale);
  }
  const pen = canvas.getContext("2d");
  pen.setTransform(scale, 0, 0, scale, 0, 0);
  pen.clearRect(0, 0, width, height);
  const now = frameNow(), oldest = now - picture.seconds * rate;
  forget(oldest - rate);
  const left = 110, right = width - 8;
  const x = (frame) => left + (frame - oldest) / (picture.seconds * rate) * (right - left);
  const sounds = [...new Set([...picture.plays.values()].map((play) => play.sound))].sort();
  const top = 22, bottom = height - 16;
  const row = Math.min(34, (bottom - top - 8) / Math.max(1, sounds.length));
  const middle = (sound) => top + 14 + row * (sounds.indexOf(sound) + 0.5);
  pen.font = "11px 'DejaVu Sans', Verdana, sans-serif";
  pen.textBaseline = "middle";

  pen.strokeStyle = colour("line");
  pen.fillStyle = colour("soft");
  pen.lineWidth = 1;
  for (let second = Math.ceil(oldest / rate); second * rate < now; ++second) {
    const here = x(second * rate);
    if (here < left) continue;
    pen.beginPath();
    pen.moveTo(here, bottom);
    pen.lineTo(here, bottom + 3);
    pen.stroke();
    if (second % 2 === 0 && second >= 0 && here > left + 10) pen.fillText(`${second} s`, here - 8, bottom + 10);
  }
  pen.beginPath();
  pen.moveTo(left, bottom);
  pen.lineTo(right, bottom);
  pen.stroke();
  pen.fillText("triggers", 0, top - 6);
  for (const sound of sounds) {
    pen.fillStyle = colour("ink");
    pen.fillText(sound.length > 15 ? sound.slice(0, 14) + "…" : sound, 0, middle(sound));
  }

  const causes = new Map();
  let written = -Infinity;
  for (const trigger of picture.triggers) {
    const here = x(trigger.frame);
    if (here < left) continue;
    causes.set(trigger.cause, here);
    pen.strokeStyle = colour("ink");
    pen.beginPath();
    pen.moveTo(here, top - 11);
    pen.lineTo(here, top - 1);
    pen.stroke();
    if (here > written + 4) {
      const word = trigger.on || trigger.kind;
      pen.fillStyle = colour("soft");
      pen.fillText(word, here + 3, top - 6);
      written = here + pen.measureText(word).width;
    }
  }
  for (const play of picture.plays.values()) {
    const y = middle(play.sound), from = Math.max(left, x(play.from)), to = Math.min(right, x(play.to ?? now));
    if (to < left) continue;
    const cause = causes.get(play.cause);
    if (cause !== undefined && x(play.from) >= left) {
      pen.strokeStyle = colour("link");
      pen.beginPath();
      pen.moveTo(cause, top);
      pen.lineTo(x(play.from), y - row * 0.4);
      pen.stroke();
    }
    pen.strokeStyle = colour("calm");
    pen.beginPath();
    pen.moveTo(from, y);
    pen.lineTo(to, y);
    pen.stroke();
    const seen = play.levels.filter(([frame]) => x(frame) >= left);
    if (seen.length === 0) continue;
    const half = (peak) => Math.max(0, 1 + 20 * Math.log10(Math.max(peak, 1e-6)) / 60) * row * 0.45;
    const step = rate / 50; // each level is that of 20 ms
    const end = Math.min(x(seen.at(-1)[0] + step), to);
    pen.fillStyle = colour("calm");
    pen.beginPath();
    pen.moveTo(x(seen[0][0]), y);
    for (const [frame, peak] of seen) pen.lineTo(x(frame), y - half(peak));
    pen.lineTo(end, y);
    for (const [frame, peak] of [...seen].reverse()) pen.lineTo(x(frame), y + half(peak));
    pen.fill();
  }
}

watchers.event.push((event) => {
  if (inside) return;
  clock.frame = event.state.now;
  clock.seen = performance.now();
  for (const decision of event.decisions) remember(decision);
  rememberLevels(event.levels);
});
