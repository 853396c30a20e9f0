// The query that opens the reading's page where you stand.

export function readingQuery({ place, strand, season }) {
  if (!place) return "";
  return `?${new URLSearchParams({ run: place.run, at_m: place.at_m.toFixed(1), strand: strand + 1, season })}`;
}
