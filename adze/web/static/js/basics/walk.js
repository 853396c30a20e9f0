// A way along the fence, as legs on runs: distances, places and stretches along it; knows no page.

/** The legs of a route with how far along it each begins and ends, and whether its line is walked outward. */
export function legsOf(route) {
  let to = 0;
  return (route?.legs ?? []).map((leg) => {
    const gone = to;
    to += Math.abs(leg.to_m - leg.from_m);
    return { ...leg, gone, to, way: leg.to_m >= leg.from_m ? 1 : -1 };
  });
}

/** How far along a route a place lies; null when the route does not pass there. */
export function distanceAlong(route, place) {
  for (const leg of legsOf(route)) {
    const [low, high] = [Math.min(leg.from_m, leg.to_m), Math.max(leg.from_m, leg.to_m)];
    if (place && leg.run === place.run && place.at_m >= low - 0.05 && place.at_m <= high + 0.05) {
      return leg.gone + Math.abs(place.at_m - leg.from_m);
    }
  }
  return null;
}

/** The place at a distance along a route, held within its ends; null for a route without legs. */
export function placeAlong(route, at) {
  const legs = legsOf(route);
  const leg = legs.find((x) => Math.max(0, at) <= x.to) ?? legs.at(-1);
  if (!leg) return null;
  const step = Math.min(Math.max(0, at) - leg.gone, leg.to - leg.gone);
  return { run: leg.run, at_m: leg.from_m + leg.way * step };
}

/** A part of a route as stretches of the lines that it lies on. */
export function stretchesAlong(route, from, to) {
  const round = (m) => Math.round(m * 10) / 10;
  return legsOf(route).flatMap((leg) => {
    const ends = [Math.max(from, leg.gone), Math.min(to, leg.to)];
    if (ends[1] - ends[0] < 0.6) return [];
    const along = ends.map((at) => leg.from_m + leg.way * (at - leg.gone));
    return [{ run: leg.run, from_m: round(Math.min(...along)), to_m: round(Math.max(...along)) }];
  });
}
