// Dragging pages to another place, and masters onto pages.
import { dropLine as line, plan } from "./rooms.js";
import { chosen, send, state } from "./store.js";
import { leaves } from "./spreads.js";

/** The place between two pages nearest to the pointer: the index a page dropped there would get, and where to draw it. */
function placeAt(x, y) {
  let best = null;
  for (const leaf of leaves()) {
    const box = leaf.getBoundingClientRect();
    if (y < box.top || y > box.bottom) continue;
    const index = Number(leaf.dataset.index);
    for (const [edge, at] of [
      [box.left, index],
      [box.right, index + 1],
    ]) {
      const distance = Math.abs(edge - x);
      if (!best || distance < best.distance) best = { distance, at, x: edge, top: box.top, bottom: box.bottom };
    }
  }
  return best;
}

function showLine(place) {
  line.hidden = !place;
  if (!place) return;
  const box = line.parentNode.getBoundingClientRect();
  Object.assign(line.style, {
    left: `${place.x - box.left - 1.5}px`,
    top: `${place.top - box.top + 12}px`,
    height: `${place.bottom - place.top - 24}px`,
  });
}

function ghostOf(leaf, count) {
  const ghost = document.createElement("div");
  ghost.className = "plan-ghost";
  ghost.append(leaf.querySelector(".paper").cloneNode(true));
  if (count > 1) {
    const badge = document.createElement("b");
    badge.textContent = count;
    ghost.append(badge);
  }
  document.body.append(ghost);
  return ghost;
}

/** Follow the pointer until it is let go or Escape is pressed. */
function follow(event, moved, done) {
  const stop = (result) => {
    removeEventListener("pointermove", moved);
    removeEventListener("pointerup", up);
    removeEventListener("keydown", escape, true);
    done(result);
  };
  const up = (last) => stop(last);
  const escape = (key) => {
    if (key.key === "Escape") {
      key.stopPropagation();
      stop(null);
    }
  };
  addEventListener("pointermove", moved);
  addEventListener("pointerup", up);
  addEventListener("keydown", escape, true);
}

const scroll = (y) => {
  const box = plan.getBoundingClientRect();
  if (y > box.bottom - 50) plan.scrollTop += 14;
  else if (y < box.top + 50) plan.scrollTop -= 14;
};

export function dragPages(event, leaf, click) {
  const start = { x: event.clientX, y: event.clientY };
  let ghost = null;
  let place = null;
  follow(
    event,
    (moved) => {
      if (!ghost && Math.hypot(moved.clientX - start.x, moved.clientY - start.y) < 6) return;
      ghost ??= ghostOf(leaf, chosen().length);
      Object.assign(ghost.style, { left: `${moved.clientX + 8}px`, top: `${moved.clientY + 8}px` });
      scroll(moved.clientY);
      place = placeAt(moved.clientX, moved.clientY);
      showLine(place);
    },
    (last) => {
      ghost?.remove();
      showLine(null);
      if (!ghost) {
        if (last) click();
        return;
      }
      if (!last || !place) return;
      const pages = chosen().map((page) => page.id);
      send(last.altKey ? { do: "duplicate-pages", pages, at: place.at } : { do: "move-pages", pages, at: place.at });
    },
  );
}

export function dragMaster(event, row, master) {
  const start = { x: event.clientX, y: event.clientY };
  let ghost = null;
  let over = null;
  follow(
    event,
    (moved) => {
      if (!ghost && Math.hypot(moved.clientX - start.x, moved.clientY - start.y) < 6) return;
      if (!ghost) {
        ghost = document.createElement("div");
        ghost.className = "plan-ghost words";
        ghost.textContent = master.name;
        document.body.append(ghost);
      }
      Object.assign(ghost.style, { left: `${moved.clientX + 10}px`, top: `${moved.clientY + 6}px` });
      over?.classList.remove("target");
      over = document.elementFromPoint(moved.clientX, moved.clientY)?.closest(".leaf[data-index]") || null;
      over?.classList.add("target");
    },
    (last) => {
      ghost?.remove();
      over?.classList.remove("target");
      if (!last || !ghost || !over) return;
      const page = state.plan.pages[Number(over.dataset.index)];
      const pages = state.chosen.has(page.id) ? [...state.chosen] : [page.id];
      send({ do: "apply-master", master: master.id, pages });
    },
  );
}
