// The cells of a table as a grid: rows and columns put in and taken out, cells joined and parted. No element, no request.

/** What a cell has of its own, where it has nothing as the table's style says.
    @param {any} one */
const looksOf = ({ vertical, fill, turn, height, rules }) => ({
  vertical: vertical || null,
  fill: fill || null,
  turn: turn || 0,
  height: height || 0,
  rules: rules || null,
});

/** A grid of a table's rows: a cell that goes down leaves no room for others below it. */
export function gridOf(rows) {
  const taken = new Set(),
    cells = [];
  let was = 0,
    columns = 0;
  rows.forEach((row, at) => {
    let col = 0;
    for (const one of row) {
      while (taken.has(`${at},${col}`)) col += 1;
      const down = Math.min(one.down || 1, rows.length - at),
        across = one.across || 1;
      for (let r = 0; r < down; r += 1) for (let c = 0; c < across; c += 1) taken.add(`${at + r},${col + c}`);
      cells.push({ row: at, col, across, down, words: one.words, ...looksOf(one), was });
      was += 1;
      col += across;
      columns = Math.max(columns, col);
    }
  });
  return { rows: rows.length, columns, cells };
}

/** The rows of a grid again, each with its cells from left to right. */
export function rowsOf(grid) {
  return Array.from({ length: grid.rows }, (_, row) =>
    grid.cells
      .filter((one) => one.row === row)
      .sort((a, b) => a.col - b.col)
      .map(({ words, across, down, was, ...one }) => ({ words, across, down, ...looksOf(one), was })),
  );
}

export const cellAt = (grid, row, col) =>
  grid.cells.find((one) => one.row <= row && row < one.row + one.down && one.col <= col && col < one.col + one.across);
const fresh = (row, col) => ({ row, col, across: 1, down: 1, words: "", ...looksOf({}), was: -1 });
const ALONG = { row: ["row", "down", "rows"], col: ["col", "across", "columns"] };

/** A row or a column (`way`) put in before number `at`. Cells that go over that place go on over it. */
export function putIn(grid, way, at) {
  const [place, size, count] = ALONG[way],
    [other, , others] = ALONG[way === "row" ? "col" : "row"];
  const crossed = new Set();
  for (const one of grid.cells) {
    if (one[place] >= at) one[place] += 1;
    else if (one[place] + one[size] > at) {
      one[size] += 1;
      const [, breadth] = ALONG[way === "row" ? "col" : "row"];
      for (let n = 0; n < one[breadth]; n += 1) crossed.add(one[other] + n);
    }
  }
  grid[count] += 1;
  for (let n = 0; n < grid[others]; n += 1)
    if (!crossed.has(n)) grid.cells.push(way === "row" ? fresh(at, n) : fresh(n, at));
  return grid;
}

/** A row or a column taken out. Cells that go over it are one smaller. */
export function takeOut(grid, way, at) {
  const [place, size, count] = ALONG[way];
  if (grid[count] === 1) return grid;
  grid.cells = grid.cells.filter((one) => one[place] !== at || one[size] > 1);
  for (const one of grid.cells) {
    if (one[place] > at) one[place] -= 1;
    else if (one[place] + one[size] > at) one[size] -= 1;
  }
  grid[count] -= 1;
  return grid;
}

/** A cell joined with those beside (`way` "col") or below it ("row"), if together they are a rectangle. Words come behind each other. */
export function join(grid, cell, way) {
  const [place, size, count] = ALONG[way],
    [other, breadth] = ALONG[way === "row" ? "col" : "row"];
  const at = cell[place] + cell[size];
  if (at >= grid[count]) return false;
  const beside = [
    ...new Set(
      Array.from({ length: cell[breadth] }, (_, n) =>
        way === "col" ? cellAt(grid, cell[other] + n, at) : cellAt(grid, at, cell[other] + n),
      ),
    ),
  ];
  const [first] = beside;
  const same = beside.every(
    (one) =>
      one &&
      one[place] === at &&
      one[size] === first[size] &&
      one[other] >= cell[other] &&
      one[other] + one[breadth] <= cell[other] + cell[breadth],
  );
  if (!same) return false;
  cell[size] += first[size];
  cell.words = [cell.words, ...beside.map(({ words }) => words)].filter(Boolean).join("\n");
  grid.cells = grid.cells.filter((one) => !beside.includes(one));
  return true;
}

/** A cell that goes over several made single ones. */
export function part(grid, cell) {
  const { row, col, across, down } = cell;
  Object.assign(cell, { across: 1, down: 1 });
  for (let r = 0; r < down; r += 1)
    for (let c = 0; c < across; c += 1) if (r || c) grid.cells.push(fresh(row + r, col + c));
  return grid;
}

/** Words from a spreadsheet, from a cell on; the grid grows as it must. */
export function fillFrom(grid, row, col, lines) {
  while (grid.rows < row + lines.length) putIn(grid, "row", grid.rows);
  const wide = Math.max(...lines.map((line) => line.length));
  while (grid.columns < col + wide) putIn(grid, "col", grid.columns);
  lines.forEach((line, r) =>
    line.forEach((words, c) => {
      const cell = cellAt(grid, row + r, col + c);
      if (cell && cell.row === row + r && cell.col === col + c) cell.words = words;
    }),
  );
  return grid;
}
