// The text tool: a press puts the caret.
import { reach } from "../cellchoice.js";
import { select } from "../frames.js";
import { frameAt, point } from "../sheet.js";
import { on, toast } from "../store.js";
import * as text from "../text.js";
import { press as pressText } from "../textpress.js";
import { tool } from "../tools.js";
import { unwound } from "../../typing/tape.js";

function press(event, clicks) {
  const at = point(event);
  const frame = frameAt(at, { cells: true });
  if (event.shiftKey && frame && reach(frame)) return;
  if (frame && frame.story) {
    if (unwound()) select(frame);
    pressText(event, frame, clicks);
  } else {
    text.leave();
    select(null);
    if (frameAt(at, { fields: true }))
      toast("This text belongs to the master page. Click “Edit master page” in the slip to change it everywhere.");
  }
}

tool({ id: "text", word: "Text", icon: "text-cursor", press });
on("tool", (chosen) => {
  if (chosen !== "text") text.leave();
});
