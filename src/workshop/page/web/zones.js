// Zones drawn by hand on the stage: moved, resized, ordered, added and removed.

const zones = {chosen: "", drawing: ""};

const round = (value) => Math.round(value * 10) / 10;

function shapeOf(name) {
  const entry = project.toml?.zone?.[name] ?? {};
  const kind = ["circle", "ellipse", "rectangle", "polygon"].find((one) => entry[one] !== undefined);
  return kind ? {kind, values: entry[kind]} : null;
}

function tomlOfShape({kind, values}) {
  if (kind === "polygon") return `[${values.map(([x, y]) => `[${round(x)}, ${round(y)}]`).join(", ")}]`;
  return `{ ${Object.entries(values).map(([key, value]) => `${key} = ${round(value)}`).join(", ")} }`;
}

function movedShape({kind, values}, dx, dy) {
  if (kind === "polygon") return {kind, values: values.map(([x, y]) => [x + dx, y + dy])};
  return {kind, values: {...values, x: values.x + dx, y: values.y + dy}};
}

/// The corner at the right and below moves by dx and dy.
function resizedShape({kind, values}, dx, dy) {
  const least = 2, size = (value) => Math.max(least, value);
  if (kind === "circle") return {kind, values: {...values, r: size(values.r + Math.max(dx, dy))}};
  if (kind === "ellipse") return {kind, values: {...values, rx: size(values.rx + dx), ry: size(values.ry + dy)}};
  if (kind === "rectangle") return {kind, values: {...values, width: size(values.width + dx), height: size(values.height + dy)}};
  const xs = values.map((point) => point[0]), ys = values.map((point) => point[1]);
  const left = Math.min(...xs), top = Math.min(...ys), width = Math.max(...xs) - left || 1, height = Math.max(...ys) - top || 1;
  return {kind, values: values.map(([x, y]) => [left + (x - left) * size(width + dx) / width, top + (y - top) * size(height + dy) / height])};
}

function outlineOf({kind, values}) {
  if (kind === "polygon") return values;
  if (kind === "rectangle") {
    const {x, y, width, height} = values;
    return [[x, y], [x + width, y], [x + width, y + height], [x, y + height]];
  }
  const rx = values.r ?? values.rx, ry = values.r ?? values.ry;
  return Array.from({length: 48}, (_, index) => [values.x + rx * Math.cos(index * Math.PI / 24), values.y + ry * Math.sin(index * Math.PI / 24)]);
}

function showShape(group, shape) {
  const outline = outlineOf(shape);
  group.querySelector("polygon").setAttribute("points", outline.map((point) => point.join(",")).join(" "));
  const corner = [Math.max(...outline.map((point) => point[0])), Math.max(...outline.map((point) => point[1]))];
  const handle = group.querySelector("rect");
  if (handle) {
    handle.setAttribute("x", corner[0] - stage.size / 4);
    handle.setAttribute("y", corner[1] - stage.size / 4);
  }
}

function writeShape(name, shape) {
  return setValue(["zone", name, shape.kind], tomlOfShape(shape));
}

function chooseZone(name) {
  zones.chosen = name;
  for (const [other, {group}] of stage.zones) {
    group.classList.toggle("chosen", other === name);
    group.querySelector("rect")?.remove();
    if (other !== name) continue;
    group.append(drawn("rect", {width: stage.size / 2, height: stage.size / 2, class: "handle"}));
    showShape(group, shapeOf(name));
  }
  buildZoneBar();
}

/// Follows a pointer from where it went down; `done` gets the shape at its end.
function dragShape(event, group, start, shapeAt, done) {
  const from = stagePoint(event), element = stage.element;
  let shape = start;
  element.setPointerCapture(event.pointerId);
  const move = (now) => {
    const [x, y] = stagePoint(now);
    shape = shapeAt(start, x - from[0], y - from[1]);
    showShape(group, shape);
  };
  const up = (last) => {
    move(last);
    element.removeEventListener("pointermove", move);
    element.removeEventListener("pointerup", up);
    done(shape);
  };
  element.addEventListener("pointermove", move);
  element.addEventListener("pointerup", up);
}

function pointerChangesZone(event) {
  if (event.button > 0) return;
  if (zones.drawing !== "") return drawZone(event);
  const group = event.target.closest("[data-zone]");
  if (!group) return chooseZone("");
  const name = group.dataset.zone, shape = shapeOf(name), resizes = event.target.classList.contains("handle");
  if (!resizes) chooseZone(name);
  const from = stagePoint(event);
  dragShape(event, group, shape, resizes ? resizedShape : movedShape, (changed) => {
    if (tomlOfShape(changed) !== tomlOfShape(shape)) writeShape(name, changed);
  });
  return from;
}

function drawZone(event) {
  const kind = zones.drawing, name = at("zone-name")?.value.trim() ?? "";
  if (!/^[a-z0-9_-]{1,64}$/.test(name)) return trouble("the new zone has no name; write one with a-z, 0-9, - and _");
  if (project.zones.some((zone) => zone.name === name)) return trouble(`the name ${name} is taken; choose another one`);
  const [x, y] = stagePoint(event);
  const group = drawn("g", {}, drawn("polygon", {}));
  stage.element.append(group);
  const start = kind === "circle" ? {kind, values: {x, y, r: 2}} : {kind, values: {x, y, width: 2, height: 2}};
  const shapeAt = (_, dx, dy) => kind === "circle" ? {kind, values: {x, y, r: Math.max(2, Math.hypot(dx, dy))}}
    : {kind, values: {x: Math.min(x, x + dx), y: Math.min(y, y + dy), width: Math.max(2, Math.abs(dx)), height: Math.max(2, Math.abs(dy))}};
  dragShape(event, group, start, shapeAt, (shape) => {
    zones.drawing = "";
    zones.chosen = name;
    writeShape(name, shape);
  });
}

function keyChangesZone(event) {
  const shape = shapeOf(zones.chosen);
  if (!shape) return;
  const step = event.shiftKey ? 10 : 1;
  const by = {ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step]}[event.code];
  if (by) {
    event.preventDefault();
    writeShape(zones.chosen, movedShape(shape, ...by));
  }
  if (event.code === "Delete") removeZone();
}

function removeZone() {
  if (zones.chosen !== "") change("remove", {name: zones.chosen});
}

function buildZoneBar() {
  const bar = at("zone-bar");
  bar.replaceChildren();
  if (!edit.on) return;
  const press = (title, act, on = false) => make("button", {type: "button", class: on ? "held" : "", "aria-pressed": String(on), click: act}, title);
  at("stage-hint").textContent = stage.changing ? "Drag a zone to move it, its corner to resize it. The arrow keys move the chosen zone."
    : stage.hint;
  bar.append(press(stage.changing ? "press zones again" : "change zones", () => {
    stage.changing = !stage.changing;
    buildStage();
    buildZoneBar();
  }, stage.changing));
  if (!stage.changing) return;
  const choose = make("select", {"aria-label": "zone", change: () => chooseZone(choose.value)}, make("option", {value: ""}, "(no zone)"),
    ...project.zones.map((zone) => make("option", {value: zone.name, selected: zone.name === zones.chosen}, zone.name)));
  bar.append(" ", choose, " ");
  const zone = project.zones.find((one) => one.name === zones.chosen);
  if (zone) {
    const order = make("input", {type: "number", step: 1, value: zone.order, "aria-label": "order", change: () => setValue(["zone", zone.name, "order"], String(Math.round(order.value)))});
    bar.append("order ", order, " ", press("remove", removeZone), " ");
  }
  const draw = (kind) => press(`new ${kind}`, () => { zones.drawing = zones.drawing === kind ? "" : kind; buildZoneBar(); }, zones.drawing === kind);
  bar.append(draw("circle"), " ", draw("rectangle"));
  if (zones.drawing !== "") bar.append(" ", make("input", {type: "text", id: "zone-name", size: 10, placeholder: "name", "aria-label": "name of the new zone"}), " then drag");
}

watchers.project.push(() => {
  if (stage.changing) chooseZone(stage.zones.has(zones.chosen) ? zones.chosen : "");
  buildZoneBar();
});
