// Check: what a printer would send back, and what can be done about it.
import "./list.js";
import "./finding.js";
import { choose } from "./state.js";

choose("all");
document.documentElement.dataset.check = "ready"; // every control answers now
