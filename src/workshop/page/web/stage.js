// The stage: the zones of the project over a picture of the app. Pointers and keys become reports.

const stage = {element: at("stage"), zones: new Map(), pointers: new Map(), keys: new Set(), size: 14, changing: false};

function boxOfStage() {
  const all = project.zones.flatMap((zone) => zone.points);
  if (all.length === 0) return [0, 0, 720, 640];
  const xs = all.map((point) => point[0]), ys = all.map((point) => point[1]);
  const edge = 12, left = Math.min(...xs) - edge, top = Math.min(...ys) - edge;
  return [left, top, Math.max(...xs) + edge - left, Math.max(...ys) + edge - top];
}

function buildStage() {
  const element = stage.element;
  element.replaceChildren();
  stage.zones.clear();
  let [left, top, width, height] = boxOfStage();
  const place = () => {
    element.setAttribute("viewBox", `${left} ${top} ${width} ${height}`);
    stage.size = width / 50;
    for (const text of element.querySelectorAll("text")) text.setAttribute("font-size", stage.size);
  };
  if (project.picture) {
    const picture = new Image();
    picture.onload = () => {
      [left, top, width, height] = [0, 0, picture.naturalWidth, picture.naturalHeight];
      element.prepend(drawn("image", {href: picture.src, width, height, opacity: 0.6}));
      place();
    };
    picture.src = inside?.over ?? "over.png";
  }
  for (const zone of project.zones) {
    const middle = project.middles[zone.name];
    const points = zone.points.map((point) => point.join(",")).join(" ");
    const group = drawn("g", {"data-zone": zone.name},
      drawn("polygon", {points}),
      drawn("text", {x: middle[0], y: zone.top, dy: "1.1em", "text-anchor": "middle"}, `${zone.name} ${zone.order}`));
    group.append(drawn("title", {}, zone.scope === "" ? zone.name : `${zone.name}, in ${zone.scope}`));
    stage.zones.set(zone.name, {group, zone, middle});
    element.append(group);
  }
  place();
  moveZones();
}

/// Shows which zones are there, and where the app has moved them to.
function moveZones() {
  for (const [name, {group, zone, middle}] of stage.zones) {
    const [x, y, scale] = state.zones[name] ?? [...middle, 1];
    const on = zone.scope === "" || state.scopes[zone.scope] !== "off";
    group.classList.toggle("off", !on || scale === 0);
    const moved = Math.abs(x - middle[0]) > 0.01 || Math.abs(y - middle[1]) > 0.01 || scale !== 1;
    if (moved) group.setAttribute("transform", `translate(${x} ${y}) scale(${scale || 1}) translate(${-middle[0]} ${-middle[1]})`);
    else group.removeAttribute("transform");
  }
}

function stagePoint(event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(stage.element.getScreenCTM().inverse());
  return [Math.round(point.x * 100) / 100, Math.round(point.y * 100) / 100];
}

/// Draws a ring where something happened.
function ring([x, y]) {
  const circle = drawn("circle", {cx: x, cy: y, r: stage.size / 2});
  stage.element.append(circle);
  setTimeout(() => circle.remove(), 350);
}

function watchStage() {
  const element = stage.element;
  // The mouse is pointer 0, as in most apps; fingers have their own numbers.
  const number = (event) => event.pointerType === "mouse" ? 0 : event.pointerId;
  element.addEventListener("pointerdown", (event) => {
    if (stage.changing) return void pointerChangesZone(event);
    if (!project.reports || event.button > 0) return;
    element.setPointerCapture(event.pointerId);
    stage.pointers.set(event.pointerId, true);
    report({pointer: stagePoint(event), "pointer-id": number(event)});
    report({press: stagePoint(event), "pointer-id": number(event)});
  });
  let moved = new Map();
  element.addEventListener("pointermove", (event) => {
    if (!project.reports || stage.changing) return;
    if (moved.size === 0)
      requestAnimationFrame(() => {
        for (const [id, point] of moved) report({pointer: point, "pointer-id": id});
        moved = new Map();
      });
    moved.set(number(event), stagePoint(event));
  });
  const up = (event) => {
    if (stage.pointers.delete(event.pointerId)) report({release: true, "pointer-id": number(event)});
  };
  element.addEventListener("pointerup", up);
  element.addEventListener("pointercancel", up);
  element.addEventListener("pointerleave", (event) => {
    if (!project.reports) return;
    moved.delete(number(event));
    report({"pointer-gone": true, "pointer-id": number(event)});
  });
  element.addEventListener("keydown", (event) => {
    if (event.code === "Escape") return element.blur();
    if (stage.changing) return keyChangesZone(event);
    if (!project.reports || event.code === "Tab" || event.code === "" || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    if (stage.keys.has(event.code)) return;
    stage.keys.add(event.code);
    report({"key-down": event.code});
  });
  element.addEventListener("keyup", (event) => {
    if (stage.keys.delete(event.code)) report({"key-up": event.code});
  });
  element.addEventListener("blur", () => {
    for (const code of stage.keys) report({"key-up": code});
    stage.keys.clear();
  });
}

watchers.project.push(buildStage);
watchers.event.push((event) => {
  moveZones();
  for (const decision of event.decisions) {
    if (decision.decision === "ended" || !decision.trigger) continue;
    const zoned = ["press", "release", "enter", "leave"].includes(decision.trigger);
    if (zoned) light(stage.zones.get(decision.on)?.group);
    if (decision.point) ring(decision.point);
  }
});
