// Starts the page.

watchers.project.push(() => {
  at("name").textContent = project.name || "Kiai";
  document.title = project.name ? `${project.name} · Kiai` : "Kiai";
  at("stage-hint").textContent = project.reports ? "Press zones. With the stage in focus, keys go to the project; Escape leaves."
    : "This page only watches.";
});
watchStage();
listen();
requestAnimationFrame(drawPicture);
