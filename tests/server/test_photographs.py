"""Photographs with entries of the field log: what is kept of them, what is refused, what goes with what."""

import contextlib
import errno
import uuid
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

import pytest
from django.core.files.base import ContentFile
from django.core.files.storage import FileSystemStorage
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import ExifTags, Image, ImageFile, ImageOps

from apercu_core.errors import Refused
from photographs.models import Photograph
from photographs.picture import read_picture
from tests.server.asking import Trial


def photograph(size=(600, 400), corner=(200, 30, 30), **exif):
    """A green picture whose upper left corner, as it is stored, is red."""
    image = Image.new("RGB", size, (40, 120, 40))
    image.paste(corner, (0, 0, size[0] // 4, size[1] // 4))
    notes = Image.Exif()
    inner = notes.get_ifd(ExifTags.IFD.Exif)
    inner.update({getattr(ExifTags.Base, name): text for name, text in exif.items() if name != "Orientation"})
    notes.get_ifd(ExifTags.IFD.GPSInfo).update({1: "N", 2: (52.0, 45.0, 30.25)})
    if "Orientation" in exif:
        notes[ExifTags.Base.Orientation] = exif["Orientation"]
    out = BytesIO()
    image.save(out, "JPEG", exif=notes)
    return out.getvalue()


@pytest.fixture
def trial(client_of, workspace, settings, tmp_path):
    settings.CLOCK, settings.MEDIA_ROOT = "2026-06-30T09:00:00+00:00", tmp_path
    return Trial(client_of("owner"), workspace)


@pytest.fixture
def entry(trial):
    path = f"/api/v1/trials/{trial.id}/log/{uuid.uuid4()}"
    note = {"kind": "note", "day": "2026-06-20", "text": "Slugs under the mulch."}
    assert trial.client.put(path, note, format="json").status_code == 200
    return path


def add(client, entry, data, id=None, name="field.jpg"):
    file = SimpleUploadedFile(name, data, "image/jpeg")
    return client.put(f"{entry}/photographs/{id or uuid.uuid4()}", {"file": file}, format="multipart")


def test_a_photograph_is_kept_upright_with_its_moment_and_without_its_place(trial, entry):
    data = photograph(Orientation=6, DateTimeOriginal="2026:06:20 11:12:13")
    assert Image.open(BytesIO(data)).getexif().get_ifd(ExifTags.IFD.GPSInfo)
    answer = add(trial.client, entry, data)
    assert answer.status_code == 200
    [kept] = answer.json()["entries"]
    [shown] = kept["photographs"]
    assert (shown["width"], shown["height"], shown["by"]) == (400, 600, kept["by"])
    assert datetime.fromisoformat(shown["taken"]) == datetime(2026, 6, 20, 10, 12, 13, tzinfo=UTC)
    for path in ("", "/preview"):
        got = trial.client.get(f"/api/v1/photographs/{shown['id']}{path}")
        assert got["Content-Type"] == "image/jpeg"
        with Image.open(BytesIO(b"".join(got.streaming_content))) as image:
            assert not image.getexif()
            red, green, _ = image.getpixel((image.width - 5, 5))
            assert red > 150 > green  # what was stored as the upper left is the upper right when it is upright
    assert max(image.size) == 480


def test_the_cameras_own_zone_counts_and_a_clock_set_wrong_does_not(trial, entry):
    given = {"DateTimeOriginal": "2026:06:20 11:12:13", "OffsetTimeOriginal": "+05:30"}
    assert read_picture(photograph(**given)).taken.utcoffset().total_seconds() == 5.5 * 3600
    assert read_picture(photograph(DateTimeOriginal="0000:00:00 00:00:00")).taken is None
    later = add(trial.client, entry, photograph(DateTimeOriginal="2031:01:01 00:00:00")).json()
    assert later["entries"][0]["photographs"][0]["taken"] is None


@pytest.mark.parametrize("turn", range(1, 9))
def test_every_orientation_of_a_camera_is_brought_upright(turn):
    data = photograph(Orientation=turn)
    with Image.open(BytesIO(data)) as stored:
        upright = ImageOps.exif_transpose(stored)
    with Image.open(BytesIO(read_picture(data).jpeg)) as kept:
        assert kept.size == upright.size
        for x, y in ((5, 5), (-5, 5), (5, -5)):
            at = x % kept.width, y % kept.height
            assert kept.getpixel(at) == pytest.approx(upright.getpixel(at), abs=20)


def test_whatever_a_camera_notes_the_photograph_is_read_or_refused():
    """Each byte of the notes in turn is another; types, counts and places of notes among them."""
    whole = photograph((60, 40), Orientation=6, ExifImageWidth=60, DateTimeOriginal="2026:06:20 11:12:13")
    start = whole.index(b"Exif\0\0") + 6
    for at in range(start, start + int.from_bytes(whole[start - 8 : start - 6]) - 8):
        for byte in (0, 2, 5, 137, 255):
            with contextlib.suppress(Refused):
                assert max(read_picture(whole[:at] + bytes([byte]) + whole[at + 1 :]).width, 40) in (40, 60)


def deep_grey():
    out = BytesIO()
    Image.new("I;16", (300, 300), 40_000).save(out, "PNG")
    return out.getvalue()


def damaged():
    whole = photograph((1500, 1500))
    return whole[: len(whole) // 2]


def huge(side):
    out = BytesIO()
    Image.new("1", (side, side)).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (lambda: b"plot,weeds\n1,2\n", "isn’t a photograph"),
        (lambda: b"", "isn’t a photograph"),
        (lambda: b"\0\0\0\x18ftypheic\0\0\0\0", "HEIC"),
        (damaged, "damaged"),
        (deep_grey, "more than 8 bits"),
        (lambda: huge(8000), "64 megapixels"),
        (lambda: huge(14000), "more megapixels than a camera"),
    ],
)
def test_what_is_no_picture_damaged_or_huge_is_refused(data, said, monkeypatch):
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)  # as the printer leaves it
    with pytest.raises(Refused, match=said):
        read_picture(data())


@pytest.mark.parametrize("after", [1, 2])
def test_a_full_disk_is_said_and_leaves_no_half_file(trial, entry, monkeypatch, settings, after):
    """The disk runs full in the middle of the photograph, or of its preview."""
    write, files = FileSystemStorage._save, []

    def fills(storage, name, content):
        files.append(name)
        if len(files) < after:
            return write(storage, name, content)
        write(storage, name, ContentFile(content.read()[:100]))
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(FileSystemStorage, "_save", fills)
    answer = add(trial.client, entry, photograph())
    assert (answer.status_code, answer.json()["code"]) == (507, "no-room")
    assert not Photograph.objects.exists()
    assert [one for one in Path(settings.MEDIA_ROOT).rglob("*") if one.is_file()] == []


def test_sent_twice_it_is_one_and_another_under_its_id_is_refused(trial, entry):
    id, data = uuid.uuid4(), photograph()
    for _ in range(2):
        assert add(trial.client, entry, data, id).status_code == 200
    assert Photograph.objects.count() == 1
    assert add(trial.client, entry, photograph(corner=(0, 0, 0)), id).json()["code"] == "id-in-use"
    refused = add(trial.client, entry, b"nothing that shows")
    assert (refused.status_code, refused.json()["code"]) == (422, "not-a-photograph")


def test_files_go_with_their_photograph_and_with_their_entry(
    trial, entry, client_of, django_capture_on_commit_callbacks, settings
):
    ids = [uuid.uuid4(), uuid.uuid4()]
    for id in ids:
        add(trial.client, entry, photograph(), id)
    folder = Path(settings.MEDIA_ROOT) / "photographs"
    assert len(list(folder.iterdir())) == 4
    assert client_of("reader").delete(f"{entry}/photographs/{ids[0]}").status_code == 403
    with django_capture_on_commit_callbacks(execute=True):
        left = trial.client.delete(f"{entry}/photographs/{ids[0]}").json()
    assert [one["id"] for one in left["entries"][0]["photographs"]] == [str(ids[1])]
    assert len(list(folder.iterdir())) == 2
    with django_capture_on_commit_callbacks(execute=True):
        trial.client.delete(entry)
    assert (list(folder.iterdir()), Photograph.objects.count()) == ([], 0)


def test_an_entry_has_twenty_at_most(trial, entry):
    for _ in range(20):
        assert add(trial.client, entry, photograph((8, 8))).status_code == 200
    refused = add(trial.client, entry, photograph((8, 8)))
    assert "20 photographs" in refused.json()["detail"]
    assert Photograph.objects.count() == 20
