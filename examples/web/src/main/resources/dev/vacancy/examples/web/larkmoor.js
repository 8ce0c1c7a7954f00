/* What pages do better with scripts: a row that went is marked, and the list is refreshed; a run tells how far it is;
 * points in time are those of the visitor's zone. */

document.addEventListener("deleted", event => event.target.closest("tr")?.classList.add("gone"));
document.addEventListener("restored", event => event.target.closest("tr")?.classList.remove("gone"));
document.addEventListener("settled", () => location.reload());

for (const time of document.querySelectorAll("time")) {
  time.textContent = new Date(time.dateTime).toLocaleString(document.documentElement.lang, {dateStyle: "medium", timeStyle: "short"});
}

const progress = document.querySelector("progress[data-run]");
if (progress) {
  const told = document.getElementById("told");
  const events = new EventSource(`/api/runs/${progress.dataset.run}/events`);
  const show = event => {
    const run = JSON.parse(event.data);
    progress.value = run.done + run.skipped + run.failed;
    told.textContent = [`${run.done.toLocaleString("en")} of ${run.records.toLocaleString("en")}`,
      `${run.skipped.toLocaleString("en")} left out`, `${run.failed.toLocaleString("en")} failed`].join(", ");
    return run;
  };
  events.addEventListener("progress", show);
  for (const end of ["done", "paused", "stopped", "cancelled"]) {
    events.addEventListener(end, event => {
      events.close();
      const run = show(event);
      if (!document.querySelector("h1").textContent.endsWith(run.state)) {
        location.reload();
      }
    });
  }
}
