// Starts the page.

watchers.project.push(() => {
  at("name").textContent = project.name || "Kiai";
  document.title = project.name ? `${project.name} · Kiai` : "Kiai";
  stage.hint = project.reports ? "Press zones. With the stage in focus, keys go to the project; Escape leaves." : "This page only watches.";
  if (!inside && !stage.changing) at("stage-hint").textContent = stage.hint;
});
if (inside) {
  document.body.classList.add("report");
  at("device").textContent = inside.made;
  const still = inside.playable ? [] : ["happened-section", "stage-hint"];
  for (const id of [...still, "levels-section", "recording-section"]) at(id).remove();
  at("triggers-title").textContent = "Bindings";
  at("picture-title").textContent = inside.rehearsal ? "Rehearsal" : "";
  at("picture").replaceWith(inside.rehearsal ? make("img", {src: inside.rehearsal, alt: "Picture of a rehearsal"}) : "");
  readProject();
  if (inside.playable) {
    document.body.classList.add("playable");
    at("stage-hint").textContent = "Loading the engine.";
    watchStage();
    startPlayable();
  }
} else {
  watchStage();
  listen();
  requestAnimationFrame(drawPicture);
}
