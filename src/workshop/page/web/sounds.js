// The catalogue: sounds, clips and findings.

const sounds = {played: new Map(), last: new Map(), open: ""};

function entries(kind) {
  return project.entries.filter((entry) => entry.kind === kind);
}

/// Plays a sound several times, each after the end of the one before.
function playTimes(name, times) {
  sounds.played.set(name, times);
  playNext(name);
}

function playNext(name) {
  const left = sounds.played.get(name) ?? 0;
  if (left <= 0) return;
  sounds.played.set(name, left - 1);
  report({play: name});
}

function soundRow(entry) {
  if (inside)
    return make("tr", {}, cell(entry.name), cell(entry.details.takes, true), cell(entry.details.loop ? "loop" : ""),
      cell(`${entry.details.plays || "any"}, ${entry.details.full}`), cell(entry.details.bus), cell(entry.state));
  const sound = project.sounds.find((one) => one.name === entry.name) ?? {layers: [], endless: false};
  const button = (title, act, label) => make("button", {type: "button", disabled: !project.reports, click: act, "aria-label": `${label} ${entry.name}`}, title);
  const layers = sound.layers.length < 2 ? [] : sound.layers.flatMap((label, index) =>
    [" ", button(label || `layer ${index + 1}`, () => report({play: entry.name, layer: index + 1}), `play layer ${index + 1} of`)]);
  const many = sound.endless ? button("stop", () => report({stop: entry.name}), "stop") : button("10 times", () => playTimes(entry.name, 10), "play 10 times");
  const last = make("span", {class: "hint"});
  sounds.last.set(entry.name, last);
  const details = entry.details;
  if (edit.on && project.toml.sound?.[entry.name])
    layers.push(" ", button(sounds.open === entry.name ? "close" : "change", () => {
      sounds.open = sounds.open === entry.name ? "" : entry.name;
      buildSounds();
    }, "change"));
  return make("tr", {"data-sound": entry.name}, cell(entry.name),
    make("td", {}, button("play", () => report({play: entry.name}), "play"), " ", many, ...layers),
    cell(details.takes, true), cell(details.loop ? "loop" : ""), cell(`${details.plays || "any"}, ${details.full}`), cell(details.bus), cell(last), cell(entry.state));
}

function drawWave(canvas, columns) {
  const scale = window.devicePixelRatio || 1;
  canvas.width = 220 * scale;
  canvas.height = 24 * scale;
  const pen = canvas.getContext("2d");
  pen.scale(scale, scale);
  const half = columns.map((peak) => Math.max(0.3, (1 + peak / 60) * 12)), step = 220 / columns.length;
  pen.fillStyle = colour("calm");
  pen.beginPath();
  pen.moveTo(0, 12);
  half.forEach((height, index) => pen.lineTo(index * step, 12 - height));
  pen.lineTo(220, 12);
  for (let index = columns.length - 1; index >= 0; --index) pen.lineTo(index * step, 12 + half[index]);
  pen.fill();
}

async function showWave(canvas) {
  const clip = await ask(`clip?name=${encodeURIComponent(canvas.dataset.clip)}`).catch(() => null);
  if (clip?.columns) drawWave(canvas, clip.columns);
}

const seen = new IntersectionObserver((changes) => {
  for (const change of changes) {
    if (!change.isIntersecting) continue;
    seen.unobserve(change.target);
    showWave(change.target);
  }
});

function clipRow(entry) {
  const details = entry.details;
  const wave = make("canvas", {class: "wave", "data-clip": entry.name, role: "img", "aria-label": `waveform of ${entry.name}`});
  if (inside) showWave(wave); // at once, since it may be printed
  else seen.observe(wave);
  const audio = inside?.audio?.[entry.name];
  const hear = audio ? () => new Audio(audio).play().catch((error) => trouble(error.message)) : () => report({play: entry.name});
  const able = audio !== undefined || project.reports;
  const play = able ? make("button", {type: "button", click: hear, "aria-label": `play ${entry.name}`}, "play") : "";
  const author = inside?.[`clip?name=${encodeURIComponent(entry.name)}`]?.author;
  return make("tr", {}, cell(entry.name), cell(play), cell(wave), cell(details.seconds?.toFixed(2), true), cell(details.loudness?.toFixed(1), true),
    cell(author ? `${author}, ${details.licence}` : details.licence), cell(details.file), cell(entry.state));
}

function buildSounds() {
  seen.disconnect();
  const all = entries("sound"), clips = entries("clip");
  at("sounds").replaceChildren(all.length === 0 ? make("p", {class: "hint"}, "None.")
    : table([["sound"], ...(inside ? [] : [[""]]), ["takes", true], [""], ["plays, when full"], ["bus"], ...(inside ? [] : [["last play"]]), ["state"]],
      all.flatMap((entry) => edit.on && sounds.open === entry.name
        ? [soundRow(entry), make("tr", {}, make("td", {colspan: 8}, soundFields(entry.name)))] : [soundRow(entry)])));
  at("clips").replaceChildren(clips.length === 0 ? make("p", {class: "hint"}, "None.")
    : table([["clip"], [""], ["waveform"], ["seconds", true], ["LUFS", true], [inside ? "author, licence" : "licence"], ["file"], ["state"]], clips.map(clipRow)));
  at("findings").replaceChildren(project.findings.length === 0 ? make("p", {class: "hint"}, "None.")
    : table([["severity"], ["line", true], ["problem"], ["fix"]], project.findings.map((finding) =>
      make("tr", {class: `severity-${finding.severity}`}, cell(finding.severity), cell(finding.line || "", true), cell(finding.message), cell(finding.fix)))));
}

function describeTake(layer) {
  const signed = (value, unit) => (value < 0 ? "−" : "+") + Math.abs(value).toFixed(2) + unit;
  return `${layer.clip} ${signed(layer.pitch, " st")} ${signed(layer.gain, " dB")}`;
}

watchers.project.push(buildSounds);
watchers.event.push((event) => {
  for (const decision of event.decisions) {
    if (decision.decision === "played") {
      const last = sounds.last.get(decision.sound);
      if (last) last.textContent = (decision.layers ?? []).map(describeTake).join("; ");
    }
    if (decision.decision === "ended") playNext(decision.sound);
  }
});
