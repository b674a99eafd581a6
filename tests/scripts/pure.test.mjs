// The scripts that need no browser.
import assert from "node:assert/strict";
import test from "node:test";

const js = new URL("../../src/lexigon/bench/static/bench/js/", import.meta.url);
const { points, units } = await import(new URL("typing/characters.js", js));
const { parseLength, stepped } = await import(new URL("board/numbers.js", js));
const { figures, readNumber, valueOf } = await import(new URL("numerals.js", js));
const { byKey, commands, register, withHelp } = await import(new URL("commands.js", js));

test("characters outside the first plane count once for the server and twice for the browser", () => {
  const text = "a𝔊b🐦c";
  assert.equal(points(text), 5);
  for (const [character, unit] of [
    [0, 0],
    [1, 1],
    [2, 3],
    [3, 4],
    [4, 6],
    [5, 7],
    [9, 7],
  ])
    assert.equal(units(text, character), unit);
  for (let at = 0; at <= 5; at += 1) assert.equal(points(text, units(text, at)), at);
});

test("arrows make the first number of what is typed one more or less", () => {
  for (const [text, up, far, now] of [
    ["12 mm", true, false, "13 mm"],
    ["-0,5 pt", false, false, "-1.5 pt"],
    ["1,234.5 mm", true, false, "1,235.5 mm"],
    ["20 %", true, true, "30 %"],
    ["1 in + 3 mm", true, false, "1.1 in + 3 mm"],
    ["3″", false, true, "2″"],
    ["", true, false, ""],
  ])
    assert.equal(stepped(text, up, far), now);
});

test("a command is found by its key as long as it may run", () => {
  let done = "";
  let open = false;
  register(
    {
      word: "Turn",
      keys: ["t", "T"],
      help: "turn it",
      run: () => {
        done = "turned";
      },
    },
    {
      word: "Cut",
      keys: ["x"],
      when: () => open,
      run: () => {
        done = "cut";
      },
    },
    { keys: ["Drag"], help: "move it by the pointer" },
  );
  byKey("T").run();
  assert.equal(done, "turned");
  assert.equal(byKey("x"), undefined);
  assert.equal(byKey("Drag"), undefined, "a line of help is no command");
  open = true;
  byKey("x").run();
  assert.equal(done, "cut");
  assert.deepEqual(
    commands().map(({ word }) => word),
    ["Turn", "Cut"],
  );
  assert.deepEqual(
    withHelp().map(({ help }) => help),
    ["turn it", "move it by the pointer"],
  );
});

const { evenGaps, pulled, targets } = await import(new URL("board/snapping.js", js));
const { inSteps, stretched, stretchedTurned } = await import(new URL("board/stretching.js", js));
const page = {
  side: "recto",
  bleed: { head: 9, foot: 8, inner: 3, outer: 10 },
  grid: { start: 50, step: 15 },
  lines: {
    w: 400,
    h: 600,
    area: { x: 40, y: 50, w: 320, h: 500 },
    columns: 2,
    gutter: 20,
    rows: 1,
    rowGutter: 0,
    guides: [
      { axis: "x", at: 77 },
      { axis: "y", at: 88 },
    ],
  },
};
const box = { x: 100, y: 100, w: 50, h: 20 };

test("edges are pulled to what is switched on, and told why", () => {
  const only = (kind) => targets(page, [{ ...box, name: "Block" }], (one) => one === kind);
  assert.deepEqual(only("guides"), { xs: [{ at: 77, why: "guide" }], ys: [{ at: 88, why: "guide" }] });
  assert.deepEqual(
    only("page").xs.map(({ at }) => at),
    [0, 400, 200, -3, 410],
  );
  assert.deepEqual(
    targets({ ...page, side: "verso" }, [], (one) => one === "page").xs.map(({ at }) => at),
    [0, 400, 200, -10, 403],
  );
  assert.deepEqual(
    only("margins").xs.map(({ at }) => at),
    [40, 360, 40, 190, 210, 360],
  );
  assert.deepEqual(
    only("objects").ys.map(({ at }) => at),
    [100, 120, 110],
  );
  assert.equal(only("grid").ys[3].at, 95);
  assert.deepEqual(
    targets(page, [box], () => false),
    { xs: [], ys: [] },
  );
  const squares = { across: 100, down: 150, parts: 2, x: 30, y: 0 };
  const grid = targets({ ...page, squares }, [], (one) => one === "squares");
  assert.deepEqual(
    grid.xs.map(({ at }) => at),
    [30, 80, 130, 180, 230, 280, 330, 380],
  );
  assert.deepEqual(
    grid.ys.map(({ at }) => at),
    [0, 75, 150, 225, 300, 375, 450, 525, 600],
  );
  const hidden = { ...page, lines: { ...page.lines, guides: [{ axis: "x", at: 77, seen: false }] } };
  assert.deepEqual(targets(hidden, [], (one) => one === "guides").xs, []);
  const near = pulled([98, 123, 148], only("objects").xs, 3);
  assert.deepEqual(near, { shift: 2, target: 100, why: "edge of Block" });
  assert.equal(pulled([90], only("objects").xs, 3), null);
});

test("gaps are equal between two neighbours, and as wide as the next one", () => {
  const [a, b, c] = [
    { x: 0, y: 0, w: 40, h: 40 },
    { x: 60, y: 10, w: 40, h: 40 },
    { x: 300, y: 0, w: 40, h: 40 },
  ];
  const between = evenGaps({ x: 182, y: 5, w: 30, h: 20 }, [a, b, c], "x", 5);
  assert.equal(182 + between.shift, 185);
  assert.equal(between.gap, 85);
  assert.deepEqual(
    between.bars.map(({ from, to }) => [from, to]),
    [
      [100, 185],
      [215, 300],
    ],
  );
  const next = evenGaps({ x: 118, y: 5, w: 30, h: 20 }, [a, b], "x", 5);
  assert.equal(118 + next.shift, 120);
  assert.equal(next.gap, 20);
  const before = evenGaps({ x: -58, y: 5, w: 40, h: 20 }, [a, b], "x", 5);
  assert.equal(-58 + before.shift, -60);
  assert.equal(evenGaps({ x: 118, y: 500, w: 30, h: 20 }, [a, b], "x", 5), null, "another row");
  const down = evenGaps(
    { x: 5, y: 119, w: 20, h: 30 },
    [
      { x: 0, y: 0, w: 40, h: 40 },
      { x: 10, y: 60, w: 40, h: 40 },
    ],
    "y",
    5,
  );
  assert.equal(119 + down.shift, 120);
});

test("a point goes on in one of eight directions", () => {
  const [x, y] = inSteps([10, 10], [40, 33]);
  assert.ok(Math.abs(x - y) < 1e-9 && Math.abs(Math.hypot(x - 10, y - 10) - Math.hypot(30, 23)) < 1e-9);
  assert.deepEqual(inSteps([5, 5], [5, 5]), [5, 5]);
});

test("a box is stretched by its handles, from its middle, in proportion, and turned", () => {
  assert.deepEqual(stretched(box, 1, 1, 10, 5), { x: 100, y: 100, w: 60, h: 25 });
  assert.deepEqual(stretched(box, 0, 0, 10, 5), { x: 110, y: 105, w: 40, h: 15 });
  assert.deepEqual(stretched(box, 1, 0.5, 10, 99, { centred: true }), { x: 90, y: 100, w: 70, h: 20 });
  assert.deepEqual(stretched(box, 1, 1, 50, 0, { keep: true }), { x: 100, y: 100, w: 100, h: 40 });
  assert.deepEqual(stretched(box, 0.5, 1, 0, 20, { keep: true }), { x: 75, y: 100, w: 100, h: 40 });
  assert.equal(stretched(box, 1, 1, -500, 0).w, 4);
  const turned = stretchedTurned(box, 90, 1, 0.5, 0, 10); // its right handle lies at the foot now
  assert.equal(Math.round(turned.w), 60);
  const [was, is] = [
    { x: 125, y: 110 - 25 },
    { x: turned.x + turned.w / 2, y: turned.y + turned.h / 2 - turned.w / 2 },
  ];
  assert.ok(Math.hypot(was.x - is.x, was.y - is.y) < 1e-9, "what lies opposite stays");
});

const { pieces, stays } = await import(new URL("board/patching.js", js));

test("a drawing falls into what stands on the page, and what is as it was stays", () => {
  const shade = '<filter id="s"><feDropShadow/></filter><g filter="url(#s)"><g class="frame"><path d="M0 0"/></g></g>';
  const all = [
    '<g class="frame"><path d="M1 1"/></g>',
    shade,
    '<g class="frame"><g class="ln"><text>a &lt;g&gt; b</text></g></g>',
  ];
  assert.deepEqual(pieces(all.join("")), all);
  assert.deepEqual(pieces(""), []);
  assert.deepEqual(stays(["a", "b", "c"], ["a", "x", "c"]), [0, -1, 2]);
  assert.deepEqual(stays(["a", "b", "c"], ["a", "c"]), [0, 2]);
  assert.deepEqual(stays(["a", "c"], ["a", "b", "c"]), [0, -1, 1]);
  assert.deepEqual(stays([], ["a"]), [-1]);
});

const { withWords: changed } = await import(new URL("typing/words.js", js));

test("words put into a paragraph of the writing view carry its looks as the server does", () => {
  const row = {
    text: "ab\ud835\udd0ade\ufffcf",
    spans: [
      [1, 3, "i", undefined],
      [5, 6, "", "note", "1"],
    ],
  };
  const after = (start, end, put) => {
    const { text, spans = [] } = changed(row, start, end, put);
    return [text, spans.map(([s, e, classes, kind]) => [s, e, kind || classes])];
  };
  assert.deepEqual(after(0, 0, "x"), [
    "xab\ud835\udd0ade\ufffcf",
    [
      [2, 4, "i"],
      [6, 7, "note"],
    ],
  ]);
  assert.deepEqual(
    after(1, 1, "x"),
    [
      "axb\ud835\udd0ade\ufffcf",
      [
        [2, 4, "i"],
        [6, 7, "note"],
      ],
    ],
    "before a look it is not in it",
  );
  assert.deepEqual(
    after(3, 3, "xy"),
    [
      "ab\ud835\udd0axyde\ufffcf",
      [
        [1, 5, "i"],
        [7, 8, "note"],
      ],
    ],
    "behind it, it is",
  );
  assert.deepEqual(after(1, 3, "x"), [
    "axde\ufffcf",
    [
      [1, 2, "i"],
      [4, 5, "note"],
    ],
  ]);
  assert.deepEqual(after(2, 4, "x"), [
    "abxe\ufffcf",
    [
      [1, 3, "i"],
      [4, 5, "note"],
    ],
  ]);
  assert.deepEqual(after(0, 2, ""), [
    "\ud835\udd0ade\ufffcf",
    [
      [0, 1, "i"],
      [3, 4, "note"],
    ],
  ]);
  assert.deepEqual(after(5, 6, ""), ["ab\ud835\udd0adef", [[1, 3, "i"]]], "a note that is deleted is gone");
  assert.deepEqual(after(6, 6, "x"), [
    "ab\ud835\udd0ade\ufffcxf",
    [
      [1, 3, "i"],
      [5, 6, "note"],
    ],
  ]);
});

test("a table's grid: cells that go over others keep their place through rows and columns put in and taken out", async () => {
  const { cellAt, fillFrom, gridOf, join, part, putIn, rowsOf, takeOut } = await import(
    new URL("board/tablegrid.js", js)
  );
  const rows = [
    [
      { words: "", down: 2 },
      { words: "Average", across: 2 },
      { words: "Red eyes", down: 2 },
    ],
    [{ words: "height" }, { words: "weight" }],
    [{ words: "Males" }, { words: "1.9" }, { words: "0.003" }, { words: "40%" }],
  ];
  const said = (grid) =>
    rowsOf(grid).map((row) =>
      row.map(({ words, across, down }) => `${words}${across > 1 ? `>${across}` : ""}${down > 1 ? `v${down}` : ""}`),
    );
  const fresh = () => gridOf(structuredClone(rows));
  assert.deepEqual(said(fresh()), [
    ["v2", "Average>2", "Red eyesv2"],
    ["height", "weight"],
    ["Males", "1.9", "0.003", "40%"],
  ]);
  assert.equal(cellAt(fresh(), 1, 3).words, "Red eyes");
  assert.deepEqual(said(putIn(fresh(), "col", 2)), [
    ["v2", "Average>3", "Red eyesv2"],
    ["height", "", "weight"],
    ["Males", "1.9", "", "0.003", "40%"],
  ]);
  assert.deepEqual(said(putIn(fresh(), "row", 1)), [
    ["v3", "Average>2", "Red eyesv3"],
    ["", ""],
    ["height", "weight"],
    ["Males", "1.9", "0.003", "40%"],
  ]);
  assert.deepEqual(said(takeOut(fresh(), "row", 0)), [
    ["", "height", "weight", "Red eyes"],
    ["Males", "1.9", "0.003", "40%"],
  ]);
  assert.deepEqual(said(takeOut(fresh(), "col", 1)), [
    ["v2", "Average", "Red eyesv2"],
    ["weight"],
    ["Males", "0.003", "40%"],
  ]);
  for (const at of [0, 1, 2, 3])
    assert.deepEqual(said(takeOut(putIn(fresh(), "col", at), "col", at)), said(fresh()), "put in and taken out again");
  const grid = fresh();
  assert.equal(join(grid, cellAt(grid, 1, 1), "col"), true);
  assert.deepEqual(said(grid)[1], ["height\nweight>2"]);
  const other = fresh();
  assert.equal(join(other, cellAt(other, 0, 0), "col"), false, "no rectangle");
  assert.equal(join(grid, cellAt(grid, 0, 1), "row"), true);
  assert.deepEqual(said(part(grid, cellAt(grid, 0, 1)))[1], ["", ""]);
  assert.deepEqual(
    said(
      fillFrom(fresh(), 2, 3, [
        ["a", "b"],
        ["c", "d"],
      ]),
    ).slice(2),
    [
      ["Males", "1.9", "0.003", "a", "b"],
      ["", "", "", "c", "d"],
    ],
  );
});

test("numbers are read either way and written with the reader's marks, as the server does", () => {
  const german = { decimal: ",", group: "." };
  for (const [text, value] of [
    ["1,234.5", 1234.5],
    ["1.234,5", 1234.5],
    ["1.234.567", 1234567],
    ["12,5", 12.5],
    [".5", 0.5],
    ["1 234,5", 1234.5],
    ["1’234.5", 1234.5],
  ]) {
    assert.equal(valueOf(text), value);
    assert.equal(valueOf(text, german), value);
  }
  assert.deepEqual(
    [valueOf("1,234"), valueOf("1,234", german), valueOf("1.234"), valueOf("1.234", german)],
    [1234, 1.234, 1.234, 1234],
  );
  assert.deepEqual(
    [figures(1234.5), figures(1234.5, 2, german), figures(-0.25, 2, german), figures(1234567, 0)],
    ["1,234.5", "1.234,5", "-0,25", "1,234,567"],
  );
  assert.deepEqual([readNumber("−3"), readNumber(" 1,5 "), readNumber("1 2"), readNumber("x")], [-3, 1.5, NaN, NaN]);
  assert.equal(parseLength("1.234,5 pt + 1pt", "mm"), 1235.5);
});
