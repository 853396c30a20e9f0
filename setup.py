"""Refuses to build a wheel without the fonts, styles and scripts that it must hold; pyproject.toml says the rest."""

from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py

ASSETS = Path(__file__).parent / "adze" / "web" / "static" / "vendor" / ".stamp"


class BuildWithAssets(build_py):
    """Copies the packages, once the assets are there."""

    def run(self) -> None:
        """Build. Raises SystemExit without the assets; an editable install takes them from the checkout later."""
        if not self.editable_mode and not ASSETS.exists():
            raise SystemExit("adze: fonts, styles and scripts are missing: build with scripts/package, which gets them")
        super().run()


setup(cmdclass={"build_py": BuildWithAssets})
