"""The attacks of `make attack`, small: other files and other moments each time they are changed."""

from tests.attack import disk, files, kills, load, rows, shapes, together


def test_kills_lose_nothing():
    for result in kills.run(30, seed=2):
        assert result.tried == 30
        assert result.faults == []


def test_nothing_acknowledged_is_lost_when_several_write():
    for result in together.run(90, seed=2):
        assert result.tried == 90
        assert result.faults == []


def test_a_damaged_row_takes_no_page_down():
    for result in rows.run(16, seed=2):
        assert result.tried >= 2
        assert result.faults == []


def test_a_full_disk_is_called_full_and_reading_goes_on():
    for result in disk.run(10, seed=2):
        assert result.faults == []


def test_mutated_files_are_told_of():
    for result in files.run(420, seed=2):
        assert result.tried == 30
        assert result.faults == [], result.what


def test_misshapen_files_are_told_of():
    for result in shapes.run(100, seed=2):
        assert result.tried == 20
        assert result.faults == [], result.what


def test_a_crowd_is_served(server):
    seen = load.run(server, 12, 6, 1.5)
    assert seen.faults == []
    assert len(seen.picture) >= 12
    assert len(seen.figures) >= 12
