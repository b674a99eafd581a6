// The server counts characters (code points), the browser UTF-16 units: one into the other.

/** UTF-16 index of the code point at `offset`, and back. The server counts code points. */
export const units = (text, offset) => {
  let at = 0;
  for (let i = 0; i < offset && at < text.length; i += 1) at += text.codePointAt(at) > 0xffff ? 2 : 1;
  return at;
};
export const points = (text, unit = text.length) => {
  let count = 0;
  for (let at = 0; at < unit; at += text.codePointAt(at) > 0xffff ? 2 : 1) count += 1;
  return count;
};
