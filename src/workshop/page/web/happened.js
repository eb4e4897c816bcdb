// What happened: the decisions, newest first, repeats counted. A click asks why.

const happened = {most: 300};

const refusals = ["refused-gap", "refused-limit", "refused-full", "not-met", "scope-off", "scope-paused", "pending", "not-ready", "stolen",
  "same-state", "no-zone", "no-binding", "nothing-to-stop"];
const faults = ["unknown-name", "unknown-value", "bad-number", "ring-full", "log-full", "calendar-full", "names-full", "mix-lost", "stream-late",
  "late", "unended", "insert-off", "insert-slow", "out-of-range"];

function classOf(decision) {
  if (refusals.includes(decision.decision)) return "refused";
  if (faults.includes(decision.decision)) return "wrong";
  return decision.decision === "ended" ? "ended" : "";
}

/// The same decision again and again differs only in its numbers.
function kindOf(decision) {
  return [decision.decision, decision.trigger, decision.on, decision.binding, decision.sound, decision.rule].join(" ");
}

function subjectOf(decision) {
  if (decision.sound && decision.decision !== "no-zone") return decision.sound;
  return `${decision.trigger} ${decision.on}`;
}

function show(decision) {
  const list = at("happened"), first = list.firstElementChild, kind = kindOf(decision);
  const time = (decision.frame / rate).toFixed(2) + " s";
  if (first?.kind === kind) {
    first.count += 1;
    first.querySelector("time").textContent = time;
    first.querySelector(".what").textContent = decision.text;
    first.querySelector(".times").textContent = `${first.count} times`;
    return;
  }
  const item = make("li", {class: classOf(decision)}, make("time", {}, time),
    
    inside ? make("span", {class: "what"}, decision.text)
      : make("button", {type: "button", class: "what", title: "why?", click: () => showWhy(subjectOf(decision))}, decision.text), make("span", {class: "times"}));
  item.kind = kind;
  item.count = 1;
  item.hidden = !fits(item);
  list.prepend(item);
  while (list.childElementCount > happened.most) list.lastElementChild.remove();
}

function fits(item) {
  const word = at("filter").value.trim().toLowerCase();
  return word === "" || item.textContent.toLowerCase().includes(word);
}

async function showWhy(about) {
  const box = at("why");
  let chain;
  try {
    chain = await ask(`why?about=${encodeURIComponent(about)}`);
  } catch (error) {
    return trouble(error.message);
  }
  const links = chain.chain.map((step) =>
    make("li", {class: step.holds ? "" : "broken"}, `${step.link}: ${step.holds ? "yes" : "no"}${step.detail ? `, ${step.detail}` : ""}`));
  box.replaceChildren(
    make("p", {}, chain.heard ? `${chain.subject}: heard` : chain.message, " ",
      make("button", {type: "button", class: "quiet", click: () => box.replaceChildren()}, "close")),
    make("ol", {}, ...links));
}

at("filter").addEventListener("input", () => {
  for (const item of at("happened").children) item.hidden = !fits(item);
});

watchers.event.push((event) => {
  for (const decision of event.decisions) show(decision);
  if (event.left_out > 0) at("left-out").textContent = `${event.left_out} left out at ${(event.state.now / rate).toFixed(1)} s`;
});
