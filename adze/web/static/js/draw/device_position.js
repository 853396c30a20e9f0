// Where the device is, by its own receiver, in the metres of the plan.

const REFUSED = {
  1: "This browser may not use your position. Allow it for this page.",
  2: "The device has no position. Step into the open.",
  3: "No position within 20 seconds. Step into the open and try again.",
};

/** Where somebody stands: a spot, the nearest place on a line, how sure in metres. Throws why not, in words. */
export async function devicePosition(api) {
  if (!navigator.geolocation) throw new Error("This browser cannot find your position.");
  const { coords } = await new Promise((found, refused) =>
    navigator.geolocation.getCurrentPosition(
      found,
      ({ code }) => refused(new Error(REFUSED[code] ?? "Your position is unknown.")),
      { enableHighAccuracy: true, timeout: 20000, maximumAge: 0 },
    ),
  );
  const query = new URLSearchParams({ lat: coords.latitude, lon: coords.longitude });
  return { ...(await api.ask(`/here?${query}`)), accuracy: coords.accuracy };
}
