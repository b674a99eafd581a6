// The flow tool: a text is led on from the frame that is pressed first to the one pressed next.
import { draw, lead, select } from "../frames.js";
import { ask, hush } from "../../notice.js";
import { frameAt, point } from "../sheet.js";
import { frames } from "../standing.js";
import { send, setTool, state, toast } from "../store.js";
import { tool } from "../tools.js";

async function link(event) {
  const frame = frameAt(point(event));
  if (!lead.from) {
    if (!frame) {
      toast("Click the frame that the story comes from, then the frame in which it continues.");
      return;
    }
    lead.from = frame.id;
    select(frame);
    toast("Now click the frame in which the story continues.");
    return;
  }
  const after = lead.from;
  lead.from = null;
  if (!frame) {
    toast("The flow was not changed.");
    return;
  }
  hush();
  const own = frames().find((f) => f.id === after)?.story;
  if (frame.story && frame.story !== own && frame.lines.length) {
    const words = `“${frame.name}” holds other text. Linked, that text is added at the end of the story that flows into it.`;
    if (!(await ask("Link to a frame that holds text?", words, "Link frames"))) {
      draw();
      return;
    }
  }
  try {
    await send([{ do: "link-frames", after, into_page: state.pages[frame.page].id, into: frame.id }]);
    select(frames().find((f) => f.id === frame.id && f.page === frame.page));
    setTool("select");
  } catch {
    draw();
  }
}

tool({ id: "flow", word: "Flow", icon: "spline", press: link });
