// Words for what the page counts.

/** @param {Set<string>} hidden */
export function hiddenWords(hidden) {
  const sketches = [...hidden].filter((id) => id.startsWith("s")).length;
  /** @param {number} n @param {string} word */
  const count = (n, word) => (n ? [`${n} ${word}${n > 1 ? (word.endsWith("h") ? "es" : "s") : ""}`] : []);
  return [...count(hidden.size - sketches, "part"), ...count(sketches, "sketch")].join(", ") || "nothing";
}
