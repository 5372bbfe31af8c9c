"""From rendered light to a photograph: lens, sensor, development, file. All sums are made in linear light."""
import json
import subprocess
import tempfile
from pathlib import Path

import cv2
import numpy as np


def povray(scene_text, name, width, height, options, work):
    """Renders scene text to a 16-bit PNG of linear values; returns float RGB or RGBA."""
    work = Path(work)
    pov, png = work / f"{name}.pov", work / f"{name}.png"
    pov.write_text(scene_text)
    command = ["povray", f"+I{pov}", f"+O{png}", f"+W{width}", f"+H{height}", "-D", "+FN16", "File_Gamma=1.0", "-GA", *options]
    done = subprocess.run(command, capture_output=True, text=True)
    if done.returncode != 0 or not png.exists():
        raise SystemExit(done.stderr[-3000:])
    picture = cv2.imread(str(png), cv2.IMREAD_UNCHANGED).astype(np.float32) / 65535
    return picture[..., [2, 1, 0, 3]] if picture.shape[2] == 4 else picture[..., ::-1].copy()


def encode(linear):
    x = np.clip(linear, 0, None)
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.power(np.maximum(x, 1e-9), 1 / 2.4) - 0.055)


def lens(picture, sigma=0.65):
    return cv2.GaussianBlur(picture, (0, 0), sigma)


def disc_blur(picture, radius):
    """Out-of-focus blur with a round aperture; radius in px, antialiased rim."""
    if radius < 0.4:
        return picture
    r = int(np.ceil(radius)) + 1
    y, x = np.mgrid[-r:r + 1, -r:r + 1]
    kernel = np.clip(radius + 0.5 - np.hypot(x, y), 0, 1).astype(np.float32)
    return cv2.filter2D(picture, -1, kernel / kernel.sum(), borderType=cv2.BORDER_REFLECT)


def develop(linear, rng, noise=0.006, chroma=0.35, vignette=0.18, shoulder=0.8):
    """Vignette, shot noise with softer chroma noise, highlight shoulder, sRGB, faint sharpening -> 8 bit RGB."""
    h, w, _ = linear.shape
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    d2 = ((x - w / 2) ** 2 + (y - h / 2) ** 2) / (w * w / 4 + h * h / 4)
    out = linear * (1 - vignette * d2)[..., None]
    grain = rng.standard_normal((h, w, 1), np.float32)
    colour = cv2.GaussianBlur(rng.standard_normal((h, w, 3), np.float32), (0, 0), 1.1) * 3.0
    out = out + noise * np.sqrt(np.clip(out, 0, 1) + 0.004) * (grain + chroma * colour)
    over = np.maximum(out - shoulder, 0)
    room = 1 - shoulder
    out = np.minimum(out, shoulder) + room * (1 - np.exp(-over / room))
    code = encode(out).astype(np.float32)
    code = code + 0.25 * (code - cv2.GaussianBlur(code, (0, 0), 1.0))
    return np.clip(code * 255 + 0.5, 0, 255).astype(np.uint8)


def save_jpeg(path, rgb, quality=92, limit=4 * 1024 * 1024 - 4096):
    """Writes a JPEG under the limit of 4 MiB, lowering the quality step by step if it must."""
    while True:
        ok, data = cv2.imencode(".jpg", rgb[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality])
        if ok and len(data) <= limit:
            break
        quality -= 1
    Path(path).write_bytes(data.tobytes())
    return quality


def save_png(path, picture):
    out = picture[..., ::-1] if picture.ndim == 3 and picture.shape[2] == 3 else picture
    cv2.imwrite(str(path), out, [cv2.IMWRITE_PNG_COMPRESSION, 9])


def save_json(path, facts):
    Path(path).write_text(json.dumps(facts, indent=2) + "\n")


def work_folder():
    return tempfile.mkdtemp(prefix="hseam-demo-")
