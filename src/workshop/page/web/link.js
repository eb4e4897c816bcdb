// What goes to the program and comes from it.

const project = {zones: [], bindings: [], entries: []};
const state = {now: 0, dials: {}, scopes: {}, zones: {}, buses: [], plays: [], timers: []};
const watchers = {project: [], event: []};
let rate = 48000;

let troubled = -Infinity;

/// Says what went wrong; an empty text takes that away, if there was time to read it.
function trouble(text) {
  if (text === "" && performance.now() - troubled < 4000) return;
  if (text !== "") troubled = performance.now();
  at("trouble").textContent = text;
  at("trouble").hidden = text === "";
}

// A report is this page with its data inside: it asks nobody, and nothing happens on it, unless the engine is inside too.
const inside = at("inside") ? JSON.parse(at("inside").textContent) : null;

async function ask(path, options = {}) {
  if (inside) return inside[path] ?? {};
  const answer = await fetch(path, options);
  const body = await answer.json().catch(() => ({}));
  if (!answer.ok) throw new Error(body.message ? `${body.message}; ${body.fix}` : `the program answered ${answer.status}`);
  return body;
}

async function act(path, body = "") {
  try {
    const answer = await ask(path, {method: "POST", body});
    trouble("");
    return answer;
  } catch (error) {
    trouble(error instanceof TypeError ? "The program does not answer. Is it still running?" : error.message);
    return null;
  }
}

// What the page does keeps its order: the next is sent when the last has arrived. Reports travel together.
const waiting = [];
let sending = false;

function report(line) {
  if (inside) return void playable.kiai?.report(line);
  const text = JSON.stringify({at: 0, ...line}), last = waiting.at(-1);
  if (last?.path === "report") last.body += `\n${text}`;
  else inOrder("report", text);
}

function inOrder(path, body = "") {
  waiting.push({path, body});
  if (!sending) send();
}

async function send() {
  sending = true;
  while (waiting.length > 0) {
    const {path, body} = waiting.shift();
    await act(path, body);
  }
  sending = false;
}

// Nothing stays pressed after the page was closed.
window.addEventListener("pagehide", () => {
  if (project.reports && !inside) fetch("report", {method: "POST", body: JSON.stringify({at: 0, "input-lost": true}), keepalive: true});
});

async function readProject() {
  try {
    Object.assign(project, await ask("project"));
    rate = project.rate;
    const place = document.activeElement?.dataset?.place; // a field that is built again keeps the focus
    for (const watcher of watchers.project) watcher();
    if (place) document.querySelector(`[data-place="${CSS.escape(place)}"]`)?.focus();
  } catch (error) {
    trouble(error.message);
  }
}

let revision = 0;

function listen() {
  const source = new EventSource("events");
  source.onmessage = async (message) => {
    const event = JSON.parse(message.data);
    Object.assign(state, event.state);
    if (event.revision !== revision) {
      revision = event.revision;
      await readProject();
    }
    for (const watcher of watchers.event) watcher(event);
  };
  source.onopen = () => trouble("");
  source.onerror = () => trouble("The program does not answer. Is it still running?");
}
