"""Draw the sample site's pictures and textures, so that nothing in the repository is anyone else's.

Run `python samples/draw_pictures.py`; the same pictures come out each time.
"""

from __future__ import annotations

import random
from pathlib import Path

from PIL import Image, ImageDraw, ImageFilter

HERE = Path(__file__).parent / "otterlock" / "img"
BANK, WATER, SKY = (52, 78, 60), (70, 104, 112), (214, 208, 188)
HULLS = {"heron": (150, 44, 30), "dabchick": (30, 70, 96), "water-vole": (36, 84, 58)}


def canal(width: int, height: int, seed: int) -> Image.Image:
    """Return a canal at dusk: sky, trees, towpath and still water."""
    rng = random.Random(seed)
    picture = Image.new("RGB", (width, height), SKY)
    draw = ImageDraw.Draw(picture)
    horizon = int(height * 0.45)
    for y in range(horizon):
        share = y / horizon
        draw.line(
            [(0, y), (width, y)],
            fill=tuple(int(a + (b - a) * share) for a, b in zip((168, 178, 186), SKY, strict=True)),
        )
    for _ in range(width // 14):
        x, size = rng.randrange(width), rng.randrange(height // 14, height // 5)
        shade = rng.randrange(-14, 18)
        draw.ellipse([x - size, horizon - size, x + size, horizon + size // 2], fill=tuple(c + shade for c in BANK))
    draw.rectangle([0, horizon, width, height], fill=WATER)
    for _ in range(width // 3):
        x, y = rng.randrange(width), rng.randrange(horizon, height)
        light = rng.randrange(-16, 26)
        draw.line([(x, y), (x + rng.randrange(20, 90), y)], fill=tuple(c + light for c in WATER), width=2)
    return picture.filter(ImageFilter.GaussianBlur(1.4))


def boat(name: str, hull: tuple[int, int, int]) -> Image.Image:
    """Return a narrow boat on the canal."""
    picture = canal(640, 400, seed=len(name))
    draw = ImageDraw.Draw(picture)
    draw.rounded_rectangle([60, 210, 580, 290], radius=26, fill=hull)
    draw.rounded_rectangle([150, 150, 520, 216], radius=8, fill=tuple(c + 30 for c in hull))
    for x in range(180, 500, 64):
        draw.ellipse([x, 168, x + 30, 198], fill=(240, 226, 180), outline=(20, 20, 20), width=3)
    draw.line([(60, 272), (580, 272)], fill=(236, 190, 74), width=5)
    return picture


def rope(size: int = 48) -> Image.Image:
    """Return a tile of faint woven rope."""
    tile = Image.new("RGBA", (size, size), (0, 0, 0, 0))
    draw = ImageDraw.Draw(tile)
    for offset in range(-size, size, 12):
        draw.line([(offset, size), (offset + size, 0)], fill=(90, 70, 30, 26), width=3)
    return tile


def main() -> None:
    """Write every picture."""
    HERE.mkdir(parents=True, exist_ok=True)
    canal(1600, 640, seed=7).save(HERE / "canal.jpg", quality=82)
    for name, hull in HULLS.items():
        boat(name, hull).save(HERE / f"{name}.jpg", quality=80)
    rope().save(HERE / "rope.png", optimize=True)


if __name__ == "__main__":
    main()
