// Words put together: what several places say in the same way.

/** A label within a sentence: its first letter is small, names in it keep theirs. */
export const inSentence = (label) => label.charAt(0).toLowerCase() + label.slice(1);
