"""Photos of steps and defects: small, shown where they belong, taken off again, refused where they are none."""

import io
import math
from typing import Any

from PIL import ExifTags, Image

from tests.web.conftest import PlanPage, said


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (640, 480), "darkolivegreen").save(out, "JPEG")
    return out.getvalue()


def sent(plan: PlanPage, thing: str, content: bytes, stage: str = "build") -> Any:
    return plan.client.post(
        f"/api/plans/{plan.id}/photos",
        params={"thing": thing, "stage": stage},
        content=content,
        headers={"X-CSRF-Token": plan.csrf, "X-File-Name": "end.jpg"},
    )


def posted(plan: PlanPage, path: str, **body: Any) -> Any:
    return plan.client.post(f"/api/plans/{plan.id}/{path}", json=body, headers={"X-CSRF-Token": plan.csrf})


def test_a_photo_of_a_step_is_shown_there_and_taken_off(plan: PlanPage) -> None:
    plan.draw()
    told = sent(plan, "step:line1/ends", picture())
    assert told.status_code == 200
    panel = told.json()["panel"]
    assert panel.count("photo-small") == 1
    assert 'data-photos="step:line1/ends"' in panel
    number = panel.split('data-drop-photo="')[1].split('"')[0]
    shown = panel.split('class="photo-small" src="')[1].split('"')[0]
    assert plan.client.get(shown).headers["content-type"] == "image/jpeg"
    left = posted(plan, "photos/drop", photo=int(number), stage="build")
    assert "photo-small" not in left.json()["panel"]
    assert plan.client.get(shown).status_code == 404


def test_a_photo_of_a_defect_stands_in_the_log(plan: PlanPage) -> None:
    plan.draw()
    posted(plan, "log/defects", run="line1", at_m="40", words="Cracked insulator")
    panel = plan.get("/panel/log").json()["panel"]
    thing = "defect:" + panel.split('data-photos="defect:')[1].split('"')[0]
    assert sent(plan, thing, picture(), "log").json()["panel"].count("photo-small") == 1


def test_what_is_no_picture_or_of_nothing_is_refused(plan: PlanPage) -> None:
    plan.draw()
    assert sent(plan, "step:line1/ends", b"not a picture").status_code == 422
    assert "belongs to a step" in sent(plan, "cloud:1", picture()).text
    for _ in range(12):
        assert sent(plan, "step:line1/mark", picture()).status_code == 200
    assert "12 photos already" in said(sent(plan, "step:line1/mark", picture()).text)


def test_a_photo_says_where_it_was_taken_and_the_picture_no_longer_does(plan: PlanPage) -> None:
    plan.draw()
    origin = plan.state["document"]["origin"]
    east_deg = 210 / (111_320 * math.cos(math.radians(origin["lat"])))
    far = sent(plan, "step:line1/ends", placed_jpeg(origin["lon"] + east_deg, origin["lat"] + 60 / 111_320))
    assert "taken 60 m from First line, 210 m along" in said(far.json()["panel"])
    near = sent(plan, "step:line1/ends", placed_jpeg(origin["lon"] + east_deg, origin["lat"] + 5 / 111_320))
    assert "taken at First line, 210 m along" in said(near.json()["panel"])
    other = sent(plan, "step:line1/ends", placed_jpeg(origin["lon"], origin["lat"] / 2))
    assert "taken far from this fence" in said(other.json()["panel"])


def placed_jpeg(lon: float, lat: float) -> bytes:
    exif = Image.Exif()
    gps = exif.get_ifd(ExifTags.IFD.GPSInfo)
    gps[ExifTags.GPS.GPSLongitudeRef], gps[ExifTags.GPS.GPSLongitude] = "EW"[lon < 0], (abs(lon), 0.0, 0.0)
    gps[ExifTags.GPS.GPSLatitudeRef], gps[ExifTags.GPS.GPSLatitude] = "NS"[lat < 0], (abs(lat), 0.0, 0.0)
    exif[ExifTags.IFD.GPSInfo] = gps
    out = io.BytesIO()
    Image.new("RGB", (640, 480), "olive").save(out, "JPEG", exif=exif)
    return out.getvalue()
