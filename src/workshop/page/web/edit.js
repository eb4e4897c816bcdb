// Changes of kiai.toml: sent one at a time, shown as a difference, undone with one key.

const edit = {on: false, steps: 0, busy: Promise.resolve()};

/// Sends a change for the text that the page shows. Changes wait for each other, since each one makes a new text.
function change(path, values = {}, body = "") {
  edit.busy = edit.busy.then(async () => {
    const query = new URLSearchParams({...values, text: project.text});
    const answer = await act(`${path}?${query}`, body);
    if (answer === null) return void readProject(); // shows what is true
    project.text = answer.text;
    edit.steps = answer.steps;
    showChange(answer);
  });
  return edit.busy;
}

function setValue(place, value) {
  return change("edit", {value}, place.join("\n"));
}

function showChange({changes, remarks}) {
  const lines = changes.flatMap(({line, before, after}) => [
    ...(before === "" ? [] : before.split("\n").map((text) => make("div", {class: "before"}, `${line} − ${text}`))),
    ...(after === "" ? [] : after.split("\n").map((text) => make("div", {class: "after"}, `${line} + ${text}`)))]);
  const undo = make("button", {type: "button", disabled: edit.steps === 0, click: undoChange}, "undo");
  const what = changes.length > 0 ? "Changed kiai.toml" : remarks.length > 0 ? remarks.join(" ") : "Took the last change back";
  at("change").replaceChildren(make("p", {}, `${what} `, undo, make("span", {class: "hint"}, " Ctrl-Z")), ...lines);
}

function undoChange() {
  return change("undo");
}

/// Returns a value as kiai.toml has it; null: the text is no such value.
function tomlOf(field, text) {
  const plain = text.trim().replace("−", "-");
  if (plain === "") return "";
  const numbers = plain.split(",").map((part) => part.trim());
  const isNumber = (part) => /^[+-]?\d+(\.\d+)?$/.test(part);
  switch (field.takes) {
  case "number":
    return isNumber(plain) ? plain : null;
  case "spread":
    if (!numbers.every(isNumber) || numbers.length > 2) return null;
    return numbers.length === 2 ? `[${numbers.join(", ")}]` : plain;
  case "truth":
    return plain;
  default:
    return JSON.stringify(plain);
  }
}

/// A labelled input for one key.
function fieldOf(field, place, values) {
  const value = values?.[field.name];
  const shown = Array.isArray(value) ? value.join(", ") : value === undefined ? "" : String(value);
  const table = place.at(-1), named = place.length > 2 && !/^\d+$/.test(table);
  const label = named ? `${table} ${field.name}` : field.name;
  let input;
  const send = () => {
    const toml = field.takes === "truth" ? String(input.checked) : tomlOf(field, input.value);
    if (toml === null) return trouble(`${label}: ${input.value} is not a number; write one such as -6${field.takes === "spread" ? ", or two such as -6, 2" : ""}`);
    setValue([...place, field.name], toml);
  };
  const common = {"data-place": [...place, field.name].join("."), change: send};
  if (field.takes === "word")
    input = make("select", common, make("option", {value: ""}, `(${field.default})`),
      ...field.choices.split("|").map((choice) => make("option", {value: choice, selected: choice === value}, choice)));
  else if (field.takes === "truth") input = make("input", {...common, type: "checkbox", checked: value ?? field.default === "true"});
  else input = make("input", {...common, type: "text", size: 7, value: shown, placeholder: field.default.split(";")[0]});
  const range = field.low !== 0 || field.high !== 0 ? `, ${field.low} to ${field.high}` : "";
  return make("label", {class: "field", title: `${field.description.replaceAll("`", "")} ${field.unit}${range}`}, make("span", {}, label), input,
    make("span", {class: "hint"}, field.takes === "time" ? "" : field.unit));
}

/// A curve whose points are dragged, or moved with the arrow keys.
function curveOf(follow, place) {
  const points = follow.curve.map((point) => [...point]);
  const xs = points.map((point) => point[0]), ys = points.map((point) => point[1]);
  const left = Math.min(...xs), right = Math.max(...xs), spare = Math.max(1, (Math.max(...ys) - Math.min(...ys)) * 0.25);
  const low = Math.min(...ys) - spare, high = Math.max(...ys) + spare, width = 180, height = 90;
  const x = (value) => 6 + (value - left) / (right - left || 1) * (width - 12), y = (value) => height - (value - low) / (high - low) * height;
  const line = drawn("polyline", {}), said = make("span", {class: "hint"});
  const svg = drawn("svg", {viewBox: `0 0 ${width} ${height}`, width, height, class: "curve"}, line);
  const show = () => {
    line.setAttribute("points", points.map(([a, b]) => `${x(a)},${y(b)}`).join(" "));
    said.textContent = points.map(([a, b]) => `${a}: ${b}`).join(", ");
  };
  const write = () => setValue(place, `[${points.map(([a, b]) => `[${a}, ${b}]`).join(", ")}]`);
  points.forEach((point, index) => {
    const dot = drawn("circle", {r: 5, cx: x(point[0]), cy: y(point[1]), tabindex: 0, role: "slider", "aria-label": `point ${index + 1} of ${follow.target}`,
      "aria-valuenow": point[1]});
    const moveTo = (value) => {
      point[1] = Math.round(value * 10) / 10;
      dot.setAttribute("cy", y(point[1]));
      dot.setAttribute("aria-valuenow", point[1]);
      show();
    };
    let held = false;
    dot.addEventListener("pointerdown", (event) => { dot.setPointerCapture(event.pointerId); held = true; });
    dot.addEventListener("pointermove", (event) => {
      if (!held) return;
      const box = svg.getBoundingClientRect();
      moveTo(low + (1 - (event.clientY - box.top) / box.height) * (high - low));
    });
    dot.addEventListener("pointerup", () => { if (held) write(); held = false; });
    dot.addEventListener("keydown", (event) => {
      const by = {ArrowUp: 0.5, ArrowDown: -0.5}[event.code];
      if (by === undefined) return;
      event.preventDefault();
      moveTo(point[1] + by);
      write();
    });
    svg.append(dot);
  });
  show();
  return make("div", {class: "field"}, make("span", {}, `${follow.target} by ${follow.value ?? follow.dial ?? "value"}`), svg, said);
}

function buildEdit() {
  at("change-switch").replaceChildren();
  if (!project.edits) return;
  const button = make("button", {type: "button", "aria-pressed": String(edit.on), click: () => {
    edit.on = !edit.on;
    stage.changing = false;
    for (const watcher of watchers.project) watcher();
  }}, edit.on ? "stop changing" : "change the project");
  at("change-switch").append(button);
  document.body.classList.toggle("changing", edit.on);
  if (!edit.on) at("change").replaceChildren();
}

document.addEventListener("keydown", (event) => {
  if (!edit.on || event.code !== "KeyZ" || !(event.ctrlKey || event.metaKey) || event.target.matches("input[type=text], input[type=search]")) return;
  event.preventDefault();
  undoChange();
});

watchers.project.unshift(buildEdit);
