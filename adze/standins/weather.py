"""A weather feed that makes its weather up: the same place and day always have the same.

GET /forecast?lat=..&lon=..&from=YYYY-MM-DD&days=N answers with JSON hours. For trying and for tests; no real weather.
"""

import argparse
import json
import math
import random
from datetime import UTC, date, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlsplit

_MOST_DAYS = 14
_WET_SHARE, _STORM_SHARE = 0.35, 0.06


def made_up_hours(lat: float, lon: float, day: date, days: int) -> list[dict[str, Any]]:
    """Hours of so many days: a yearly and a daily swing of temperature, fronts with rain and wind, a rare storm."""
    rows = []
    for number in range(days):
        own = day + timedelta(days=number)
        rng = random.Random(f"{lat:.1f} {lon:.1f} {own.isoformat()}")
        season = math.cos(2 * math.pi * (own.timetuple().tm_yday - 200) / 365.25) * (1 if lat >= 0 else -1)
        middle = 27 - 0.35 * abs(lat) + 9 * season + rng.gauss(0, 2.5)
        is_wet, is_storm = rng.random() < _WET_SHARE, rng.random() < _STORM_SHARE
        front, wind = rng.uniform(2, 20), rng.uniform(1, 5) + (4 if is_wet else 0)
        for hour in range(24):
            swing = 5 * math.sin(2 * math.pi * (hour - 9) / 24)
            near = max(0.0, 1 - abs(hour - front) / 4)
            rows.append(
                {
                    "at": datetime(own.year, own.month, own.day, hour, tzinfo=UTC).isoformat(),
                    "temp_c": round(middle + swing - (3 * near if is_wet else 0), 1),
                    "wind_ms": round(wind * (1 + 0.6 * near), 1),
                    "rain_mm": round(1.8 * near, 1) if is_wet else 0.0,
                    "thunder": bool(is_storm and near > 0.5),
                }
            )
    return rows


class _Feed(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        """Answer with hours, or with what is wrong in the question."""
        query = {key: values[-1] for key, values in parse_qs(urlsplit(self.path).query).items()}
        try:
            day, days = date.fromisoformat(query["from"]), int(query.get("days", "7"))
            if not 1 <= days <= _MOST_DAYS:
                raise ValueError(f"days: give 1 to {_MOST_DAYS}")
            self._answer(200, {"hours": made_up_hours(float(query["lat"]), float(query["lon"]), day, days)})
        except (KeyError, ValueError) as error:
            self._answer(400, {"message": str(error)})

    def _answer(self, status: int, content: dict[str, Any]) -> None:
        body = json.dumps(content).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *args: object) -> None:
        """Say nothing: it is a stand-in."""


def feed(port: int = 0) -> ThreadingHTTPServer:
    """A feed on loopback; 0: a free port."""
    return ThreadingHTTPServer(("127.0.0.1", port), _Feed)


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description="A weather feed that makes its weather up.")
    parser.add_argument("--port", type=int, default=8329)
    feed(parser.parse_args().port).serve_forever()
