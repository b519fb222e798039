import pytest

from oddbolt.demo import tide_logger


@pytest.fixture(scope="session")
def logger():
    """The demo study, and what gives its pictures."""
    study = tide_logger.study()
    pictures = {p.sha256: data for p, data in zip(study.photos.values(), tide_logger.pictures(), strict=True)}
    return study, pictures.get
