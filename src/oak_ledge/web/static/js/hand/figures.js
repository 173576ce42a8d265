// Figures as the server writes them: rounded halves up, bytes in thousands.

export function rounded(value, places) {
  const times = 10 ** places;
  return String(Math.floor(value * times + 0.5) / times);
}

export function bytesWords(count) {
  if (count === null || count === undefined) return "";
  if (count >= 1e9) return `${rounded(count / 1e9, 2)} GB`;
  if (count >= 1e6) return `${rounded(count / 1e6, 2)} MB`;
  return count >= 1e3 ? `${rounded(count / 1e3, 1)} kB` : `${Math.round(count)} bytes`;
}

export const filesWord = (count) => (count === 1 ? "1 file" : `${count} files`);
