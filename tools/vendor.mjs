// Copies the scripts that ship with the application, and makes the icon sprite of the few icons used.
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";

const target = "src/lexigon/bench/static/bench/vendor";
mkdirSync(target, { recursive: true });
copyFileSync("node_modules/@alpinejs/csp/dist/module.esm.min.js", `${target}/alpine-csp.min.js`);
mkdirSync("tests/vendor", { recursive: true });
copyFileSync("node_modules/axe-core/axe.min.js", "tests/vendor/axe.min.js");

const icons = [
  "mouse-pointer-2",
  "text-cursor",
  "type",
  "square-dashed-mouse-pointer",
  "hand",
  "undo-2",
  "redo-2",
  "chevron-up",
  "chevron-down",
  "chevron-left",
  "chevron-right",
  "upload",
  "file-text",
  "download",
  "search",
  "plus",
  "spline",
  "minus",
  "book-open",
  "history",
  "log-out",
  "circle-question-mark",
  "trash-2",
  "x",
  "link",
  "square-plus",
  "shapes",
  "eye",
  "eye-off",
  "lock",
  "lock-open",
  "printer",
  "grip-vertical",
  "pen-tool",
  "table-of-contents",
];
const symbols = icons.map((name) => {
  const svg = readFileSync(`node_modules/lucide-static/icons/${name}.svg`, "utf8");
  const inner = svg
    .replace(/[\s\S]*?<svg[^>]*>/, "")
    .replace("</svg>", "")
    .replace(/\s+/g, " ")
    .trim();
  return `<symbol id="${name}" viewBox="0 0 24 24" fill="none" stroke="currentColor" stroke-width="1.75" stroke-linecap="round" stroke-linejoin="round">${inner}</symbol>`;
});
writeFileSync(
  "src/lexigon/bench/static/bench/icons.svg",
  `<svg xmlns="http://www.w3.org/2000/svg">${symbols.join("\n")}</svg>\n`,
);
