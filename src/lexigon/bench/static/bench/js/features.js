// OpenType features cannot be written as attributes; the strict content policy allows them to be set from a script.

/** Set the features that a drawing's texts ask for. */
export function setFeatures(drawing) {
  for (const text of drawing.querySelectorAll("text[data-f]"))
    text.style.fontFeatureSettings = text.dataset.f
      .split(" ")
      .map((part) => {
        const [tag, value] = part.split("=");
        return `"${tag}" ${value}`;
      })
      .join(",");
}
