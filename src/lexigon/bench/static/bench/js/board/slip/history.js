// The slip's part about the history and the versions of the job.
import { askFor } from "../asking.js";
import { register } from "../../commands.js";
import { clock } from "../../http.js";
import { past, perform, propose, state, toast } from "../store.js";
import { clear as clearTouched, pointOut } from "../touched.js";
import { part } from "./parts.js";

register({
  word: "Compare versions…",
  keys: [],
  run: () =>
    location.assign(
      `/job/${state.key}/compare/?from=${state.versions[0]?.revision ?? 0}&page=${Math.max(state.view[0], 0) + 1}`,
    ),
});

part({
  members: {
    async loadHistory() {
      const answer = await past();
      this.historyWord = "Refresh";
      this.layHistory(answer);
      if (!this.rows.length) toast("No changes yet.");
    },
    layHistory(answer) {
      this.rows = answer.rows.map((row) => ({
        ...row,
        time: clock(new Date(row.at)),
        tone: row.undone ? "text-muted line-through" : "",
        title: `${row.label}${row.where ? `, ${row.where}` : ""}: go back to how it was then`,
      }));
      this.layVersions(answer.versions);
    },
    layVersions(versions) {
      this.versions = versions.map((version) => ({
        ...version,
        time: clock(new Date(version.at)),
        compare: `/job/${state.key}/compare/?from=${version.revision}&page=${Math.max(state.view[0], 0) + 1}`,
      }));
    },
    /** What a line of the history changed is shown while it is pointed at, after a moment: not on the way to another. */
    pointAt(event) {
      const { revision } = event.currentTarget.dataset;
      clearTimeout(this.pointing);
      this.pointing = setTimeout(() => pointOut(Number(revision)), 120);
    },
    pointAway() {
      clearTimeout(this.pointing);
      clearTouched();
    },
    async goBack(event) {
      const revision = Number(event.currentTarget.dataset.revision);
      if (revision === state.revision) {
        toast("The job is already in that state.");
        return;
      }
      await this.tried(() => perform("go-back", { revision }));
      toast("Returned to that state. Undo reverses it.");
      await this.loadHistory();
    },
    async keepVersion() {
      await askFor(
        "Save version",
        "Saves the current state of the job under a name that you can return to.",
        "Save",
        { name: { word: "Name", empty: "Before the editor’s corrections" } },
        async ({ name }) => {
          this.layHistory(await propose("versions", { name }));
          this.historyWord = "Refresh";
          toast(`Saved as “${name.trim()}”.`);
        },
      );
    },
    async dropVersion(event) {
      await this.tried(async () =>
        this.layHistory(await propose(`versions/${event.currentTarget.dataset.id}/drop`, {})),
      );
    },
  },
});
