// A new version of the text beside what the job holds: each difference with its words, ticked where it is usually taken over.
import { plural } from "./survey.js";

const KINDS = { changed: "changed", added: "new", removed: "removed" };
const WHOSE = { theirs: "by the author", ours: "by you", both: "by both; check", unknown: "" };

function made(tag, name, text) {
  return Object.assign(document.createElement(tag), { className: name, textContent: text });
}

/** The differences as rows with boxes. `ticked(numbers)` is told which are chosen whenever that changes. */
export function layHunks(place, hunks, chosen, ticked) {
  place.replaceChildren(
    ...hunks.map((hunk) => {
      const row = made("li", `hunk ${hunk.whose}`, "");
      const box = Object.assign(document.createElement("input"), { type: "checkbox", checked: chosen.has(hunk.n) });
      const label = made("label", "check", "");
      const words = made("p", "words", "");
      box.setAttribute(
        "aria-label",
        `Take over: ${KINDS[hunk.kind]}, ${hunk.words
          .map(([, text]) => text)
          .join("")
          .slice(0, 60)}`,
      );
      box.addEventListener("change", () => {
        if (box.checked) chosen.add(hunk.n);
        else chosen.delete(hunk.n);
        ticked();
      });
      for (const [sign, text] of hunk.words)
        words.append(
          made(
            { "=": "span", "-": "del", "+": "ins" }[sign],
            "",
            sign === "=" && text.length > 240 && hunk.words.length > 1
              ? `${text.slice(0, 110)} … ${text.slice(-110)}`
              : text,
          ),
        );
      label.append(
        box,
        made(
          "span",
          "aside",
          [KINDS[hunk.kind], WHOSE[hunk.whose], hunk.style, hunk.looks ? "formatting or notes only" : ""]
            .filter(Boolean)
            .join(" · "),
        ),
      );
      row.append(label, words);
      return row;
    }),
  );
}

/** What is said above them. */
export function toldOf({ count, since, hunks }) {
  if (!count) return "No differences: the job already has this text.";
  const of = (whose) => hunks.filter((one) => one.whose === whose).length;
  const parts = since
    ? [
        `${plural(of("theirs"), "change")} by the author, ticked`,
        of("ours") ? `${of("ours")} by you, left unchanged` : "",
        of("both") ? `${of("both")} by both, left unchanged; check them` : "",
      ]
    : ["all ticked, because it is not known who changed what"];
  return `${plural(count, "paragraph")} differ${count === 1 ? "s" : ""}${since ? `, measured from ${since}` : ""}: ${parts.filter(Boolean).join("; ")}.${count > hunks.length ? ` The first ${hunks.length} are shown; the others are taken over with “all”.` : ""}`;
}
