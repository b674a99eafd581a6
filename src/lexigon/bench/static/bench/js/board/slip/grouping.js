// The slip's part about a group: how all of it is mixed with what lies below, and what it is cut off by.
import * as frames from "../frames.js";
import { BLENDS } from "../sections.js";
import { emit, send, state } from "../store.js";
import { part } from "./parts.js";

/** The group that is chosen whole: its id, page, name, and how it is mixed. Null where something else is chosen. */
function chosenGroup() {
  const all = frames.chosen();
  const id = all[0]?.inGroup;
  if (!id || all[0].master || !all.every((f) => f.inGroup === id)) return null;
  const at = all[0].groups.indexOf(id);
  return { id, page: state.pages[all[0].page].id, name: all[0].groupNames[at], opacity: 1, blend: "normal", cut: false, ...all[0].groupMixes[at] };
}

async function change(values) {
  const group = chosenGroup();
  if (!group) return;
  try { await send([{ do: "change-group", page: group.page, group: group.id, ...values }]); } finally { frames.draw(); emit("frame"); }
}

part({
  about: (slip) => slip.isGroup,
  rows: {
    group: [
      {
        id: "gop", word: "Opacity", title: "How much of the whole group is seen: its parts cover each other first", kind: "percent", wide: true, value: ({ group }) => group.opacity,
        set(slip, opacity) { if (!(opacity >= 0 && opacity <= 1)) throw new Error("An opacity is 0 to 100 %."); slip.tried(() => change({ opacity })); },
      },
      { id: "gblend", word: "Mixed", title: "How the whole group is mixed with what lies below it", kind: "choice", wide: true, choices: BLENDS, value: ({ group }) => group.blend, set: (slip, blend) => slip.tried(() => change({ blend })) },
    ],
  },
  members: {
    group: null,
    get isGroup() { return Boolean(this.group); },
    get isCut() { return Boolean(this.group?.cut); },
    get groupTold() { return this.group ? [this.group.cut && "cut off", this.group.opacity < 1 && `${Math.round(this.group.opacity * 100)} %`, this.group.blend !== "normal" && BLENDS.find(([id]) => id === this.group.blend)[1]].filter(Boolean).join(", ") || this.group.name : ""; },
    showAll() { this.tried(() => change({ whole: true })); },
    undoGroup() { this.tried(() => frames.ungroup()); },
  },
  fill(slip) { slip.group = slip.frame ? chosenGroup() : null; },
});
