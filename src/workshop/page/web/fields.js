// The fields of a sound, its layers, follows and LFOs.

/// Fields for the keys of a section that `place` may have. The page has none for the others.
function fieldsOf(section, place, values, leftOut = []) {
  return project.fields[section].filter((field) => !leftOut.includes(field.name)).map((field) => fieldOf(field, place, values));
}

function soundFields(name) {
  const place = ["sound", name], values = project.toml.sound?.[name] ?? {}, layers = values.layer ?? [];
  const own = project.fields.sound.map((field) => field.name);
  const whole = [...fieldsOf("sound", place, values), ...(layers.length > 0 ? [] : fieldsOf("layer", place, values, own)),
    ...fieldsOf("vary", [...place, "vary"], values.vary), ...fieldsOf("limit", [...place, "limit"], values.limit)];
  return make("div", {}, make("div", {class: "fields"}, ...whole), ...movedParts(place, values),
    ...layers.map((layer, index) => layerFields([...place, "layer", String(index + 1)], layer, index)));
}

function layerFields(place, values, index) {
  return make("fieldset", {}, make("legend", {}, `layer ${values.label ?? index + 1}`),
    make("div", {class: "fields"}, ...fieldsOf("layer", place, values), ...fieldsOf("vary", [...place, "vary"], values.vary)), ...movedParts(place, values));
}

/// Adds an item to a list, which may be missing.
function addItem(place, items, toml) {
  return items.length > 0 ? setValue([...place, String(items.length + 1)], toml) : setValue(place, `[${toml}]`);
}

/// Follows and LFOs: each with its fields, and a line that adds one.
function movedParts(place, values) {
  const follows = values.follow ?? [], lfos = values.lfo ?? [], what = place.slice(1).join(" ");
  const remove = (list, index) => make("button", {type: "button", "aria-label": `remove ${list} ${index + 1} of ${what}`,
    click: () => setValue([...place, list, String(index + 1)], "")}, "remove");
  const rows = follows.map((follow, index) => {
    const here = [...place, "follow", String(index + 1)];
    return make("div", {class: "fields"}, Array.isArray(follow.curve) ? curveOf(follow, [...here, "curve"]) : `${follow.target} by ${follow.dial ?? follow.value}`,
      ...fieldsOf("follow", here, follow, ["value", "dial", "target"]), remove("follow", index));
  });
  rows.push(...lfos.map((lfo, index) => make("div", {class: "fields"}, make("span", {class: "hint"}, `LFO ${index + 1}`),
    ...fieldsOf("lfo", [...place, "lfo", String(index + 1)], lfo), remove("lfo", index))));
  return [...rows, make("div", {class: "fields"}, followForm([...place, "follow"], follows, what),
    make("button", {type: "button", "aria-label": `add an LFO to ${what}`,
      click: () => addItem([...place, "lfo"], lfos, '{ target = "pitch", rate = 5, depth = 0.2 }')}, "add an LFO"))];
}

/// A new follow begins with a curve over the whole range of its value.
function followForm(place, follows, what) {
  const ends = {gain: [-12, 0], pitch: [-2, 2], pan: [-1, 1], "low-pass": [500, 20000], "high-pass": [10, 2000]};
  const option = (word) => make("option", {}, word);
  const by = make("select", {"aria-label": `what ${what} follows`}, option("strength"), option("place"), ...project.dials.map((dial) => option(`dial ${dial.name}`)));
  const target = make("select", {"aria-label": `what it moves in ${what}`}, ...Object.keys(ends).map(option));
  const add = make("button", {type: "button", "aria-label": `add a follow to ${what}`, click: () => {
    const dial = project.dials.find((one) => `dial ${one.name}` === by.value);
    const [low, high] = dial ? [dial.low, dial.high] : by.value === "place" ? [-1, 1] : [0, 1], [from, to] = ends[target.value];
    const source = dial ? `dial = ${JSON.stringify(dial.name)}` : `value = "${by.value}"`;
    addItem(place, follows, `{ ${source}, target = "${target.value}", curve = [[${low}, ${from}], [${high}, ${to}]] }`);
  }}, "add");
  return make("span", {class: "field"}, target, " follows ", by, " ", add);
}
