// The slip's part about a group: its opacity, its blend mode and its clip.
import * as actions from "../frameactions.js";
import * as frames from "../frames.js";
import { BLENDS } from "../sections.js";
import { wholeGroup } from "../groups.js";
import { emit, send } from "../store.js";
import { part } from "./parts.js";

async function change(values) {
  const group = wholeGroup(frames.chosen());
  if (!group) return;
  try {
    await send([{ do: "change-group", page: group.page, group: group.id, ...values }]);
  } finally {
    frames.draw();
    emit("frame");
  }
}

part({
  about: (slip) => slip.isGroup,
  rows: {
    group: [
      {
        id: "gop",
        word: "Opacity",
        title: "Opacity: of the group as a whole; objects inside still cover each other",
        kind: "percent",
        wide: true,
        value: ({ group }) => group.opacity,
        set(slip, opacity) {
          if (!(opacity >= 0 && opacity <= 1)) throw new Error("Opacity is a percentage from 0 to 100.");
          slip.tried(() => change({ opacity }));
        },
      },
      {
        id: "gblend",
        word: "Blend mode",
        title: "Blend mode: how the whole group is blended with what is below it",
        kind: "choice",
        wide: true,
        choices: BLENDS,
        value: ({ group }) => group.blend,
        set: (slip, blend) => slip.tried(() => change({ blend })),
      },
    ],
  },
  members: {
    group: null,
    get isGroup() {
      return Boolean(this.group);
    },
    get isCut() {
      return Boolean(this.group?.cut);
    },
    get groupTold() {
      return this.group
        ? [
            this.group.cut && "clipped",
            this.group.opacity < 1 && `${Math.round(this.group.opacity * 100)} %`,
            this.group.blend !== "normal" && BLENDS.find(([id]) => id === this.group.blend)[1],
          ]
            .filter(Boolean)
            .join(", ") || this.group.name
        : "";
    },
    showAll() {
      this.tried(() => change({ whole: true }));
    },
    undoGroup() {
      this.tried(() => actions.ungroup());
    },
  },
  fill(slip) {
    slip.group = slip.frame ? wholeGroup(frames.chosen()) : null;
  },
});
