"""Makes pictures by independent writers, for the benchmark alone: `make.py FOLDER`.

Beside every file FOLDER gets the truth, 16-bit RGB samples as a viewer should show them, and `corpus.json` says what is
expected of each. Wanted: tifffile with imagecodecs, Pillow, numpy; cjpeg, djpeg, ImageMagick's convert, tiffcp, cwebp,
img2webp, dwebp, webpmux, avifenc, heif-enc, heif-convert, exiftool. What is not there is left out and named."""
import io
import json
import os
import shutil
import struct
import subprocess
import sys
import zlib

import numpy
import tifffile
from PIL import Image, ImageCms

FOLDER = sys.argv[1]
PROFILES = "/usr/share/color/icc/ghostscript"
WIDTH, HEIGHT = 96, 64
entries = []
missing = set()


def scene(top, kind=numpy.uint16):
    """Ramps, strips of the cube's corners, a grey wedge and flat fields; no side is like another."""
    y, x = numpy.mgrid[0:HEIGHT, 0:WIDTH]
    rgb = numpy.zeros((HEIGHT, WIDTH, 3))
    rgb[..., 0] = x / (WIDTH - 1)
    rgb[..., 1] = y / (HEIGHT - 1)
    rgb[..., 2] = (x + 2 * y) % 48 / 47
    for corner in range(8):
        rgb[0:12, corner * 8 : corner * 8 + 8] = [corner & 1, corner >> 1 & 1, corner >> 2 & 1]
    rgb[12:20, :64] = (numpy.arange(64) / 63)[None, :, None]
    rgb[40:60, 4:30] = [0.8, 0.25, 0.2]
    rgb[44:52, 60:90] = [0.2, 0.3, 0.75]
    return numpy.round(rgb * top).astype(kind)


RGB8 = scene(255, numpy.uint8)
RGB16 = scene(65535)
GREY8 = RGB8[..., 0] // 2 + RGB8[..., 1] // 4 + RGB8[..., 2] // 4
GREY16 = RGB16[..., 0] // 2 + RGB16[..., 1] // 4 + RGB16[..., 2] // 4
OPACITY8 = numpy.full((HEIGHT, WIDTH), 255, numpy.uint8)
OPACITY8[20:40, 30:70] = 128
OPACITY8[50:60, 70:80] = 0


def smooth():
    """A picture as lossy writers meet them: soft, with some edges of strong colours."""
    y, x = numpy.mgrid[0:120, 0:176]
    rgb = numpy.stack([120 + 90 * numpy.sin(x / 23), 110 + 70 * numpy.cos(y / 17 + x / 60), 90 + y / 2], axis=2)
    rgb[(x - 60) ** 2 + (y - 50) ** 2 < 900] = [210, 40, 40]
    rgb[70:100, 110:150] = [40, 60, 190]
    rgb += numpy.random.default_rng(3).normal(0, 3, rgb.shape)
    return numpy.clip(numpy.round(rgb), 0, 255).astype(numpy.uint8)


SMOOTH = smooth()


def wide(samples):
    """Any kind of sample to three of 16 bits."""
    a = numpy.asarray(samples)
    if a.ndim == 2:
        a = numpy.repeat(a[..., None], 3, axis=2)
    if a.dtype == numpy.uint8:
        a = a.astype(numpy.uint16) * 257
    return a.astype("<u2")


def on_white(rgb, opacity, top):
    a = opacity[..., None] / top
    rgb = rgb if rgb.ndim == 3 else numpy.repeat(rgb[..., None], 3, axis=2)
    return numpy.round(rgb * a + top * (1 - a)).astype(rgb.dtype)


def srgb(light):
    """Linear light to 16-bit samples of sRGB (IEC 61966-2-1)."""
    light = numpy.clip(light, 0, 1)
    coded = numpy.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    return numpy.round(coded * 65535).astype(numpy.uint16)


def put(name, write, truth=None, bits=8, least=None, space="srgb", expect="open", ordinary=True, says=None):
    """One file: `write` gets its path or gives its bytes; `truth` is an array, or reads the path by another reader.

    With `least` the result must come that close in dB, else to the same number of 8 bits, or 80 dB for 16."""
    path = os.path.join(FOLDER, name)
    try:
        made = write(path)
        if isinstance(made, (bytes, bytearray)):
            with open(path, "wb") as file:
                file.write(made)
        if expect == "open":
            picture = wide(truth(path) if callable(truth) else truth)
            picture.tofile(path + ".truth")
            size = [picture.shape[1], picture.shape[0]]
        else:
            size = None
    except (OSError, subprocess.CalledProcessError, ValueError, KeyError, TypeError, RuntimeError) as error:
        missing.add(f"{name}: {str(error)[:150]}")
        return
    entry = {"name": name, "space": space, "bits": bits, "expect": expect, "ordinary": ordinary}
    entries.append({**entry, "size": size, "least": least, "says": says})


def run(*words, data=None):
    return subprocess.run(words, input=data, capture_output=True, check=True).stdout


def carry_out(*words, data=None):
    """Runs what writes a file itself."""
    run(*words, data=data)


def ppm(samples):
    top = 255 if samples.dtype == numpy.uint8 else 65535
    kind = b"P6" if samples.ndim == 3 else b"P5"
    big = samples if top == 255 else samples.astype(">u2")
    return kind + b"\n%d %d\n%d\n" % (samples.shape[1], samples.shape[0], top) + big.tobytes()


def from_ppm(data):
    return numpy.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def saved(image, kind, **words):
    out = io.BytesIO()
    image.save(out, kind, **words)
    return out.getvalue()


def profile(name):
    with open(os.path.join(PROFILES, name), "rb") as file:
        return file.read()


def lightness_and_colours(light):
    """Linear sRGB to Lab relative to D50, as tables of profiles have it (ICC.1:2010, 10.10)."""
    to_xyz = numpy.array([[0.4360747, 0.3850649, 0.1430804], [0.2225045, 0.7168786, 0.0606169], [0.0139322, 0.0971045, 0.7141733]])
    xyz = light @ to_xyz.T / [0.9642, 1, 0.8249]
    f = numpy.where(xyz > (6 / 29) ** 3, numpy.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29)
    lab = numpy.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)
    coded = (lab + [0, 128, 128]) * [65280 / 100, 256, 256]
    return numpy.clip(numpy.round(coded), 0, 65535).astype(">u2")


def table_profile(channels):
    """A profile that says the colours of sRGB, or of its grey, by a table alone."""
    side = 33 if channels == 3 else 255
    axis = numpy.arange(side) / (side - 1)
    grid = numpy.stack(numpy.meshgrid(axis, axis, axis, indexing="ij"), axis=-1) if channels == 3 else numpy.repeat(axis[:, None], 3, axis=1)
    light = numpy.where(grid <= 0.04045, grid / 12.92, ((grid + 0.055) / 1.055) ** 2.4)
    line = struct.pack(">HH", 0, 65535)
    table = b"mft2" + bytes(4) + bytes([channels, 3, side, 0]) + struct.pack(">9i", 65536, 0, 0, 0, 65536, 0, 0, 0, 65536)
    table += struct.pack(">HH", 2, 2) + line * channels + lightness_and_colours(light).tobytes() + line * 3
    name = b"desc" + bytes(4) + struct.pack(">I", 6) + b"table\0" + bytes(78)
    white = b"XYZ " + bytes(4) + struct.pack(">3i", 63190, 65536, 54061)
    parts = [(b"desc", name), (b"wtpt", white), (b"A2B0", table)]
    at = 132 + 12 * len(parts)
    index, body = struct.pack(">I", len(parts)), b""
    for tag, data in parts:
        data += bytes(-len(data) % 4)
        index += struct.pack(">4sII", tag, at + len(body), len(data))
        body += data
    space = b"RGB " if channels == 3 else b"GRAY"
    head = bytes(4) + struct.pack(">I", 0x02400000) + b"mntr" + space + b"Lab " + bytes(12) + b"acsp" + bytes(28) + struct.pack(">3i", 63190, 65536, 54061) + bytes(48)
    return struct.pack(">I", 4 + len(head) + len(index) + len(body)) + head + index + body


TURN = {1: (0, False), 2: (0, True), 3: (2, False), 4: (2, True), 5: (3, True), 6: (3, False), 7: (1, True), 8: (1, False)}


def upright(samples, orientation):
    """As it is seen after the turn that an Exif orientation asks for."""
    quarters, mirrored = TURN[orientation]
    if orientation in (5, 7):
        turned = numpy.swapaxes(samples, 0, 1)
        return turned if orientation == 5 else turned[::-1, ::-1]
    return (samples[:, ::-1] if mirrored else samples) if quarters == 0 else (
        samples[::-1] if mirrored else numpy.rot90(samples, quarters))


def exif(orientation=None, wide_colours=False):
    block = Image.Exif()
    if orientation:
        block[0x0112] = orientation
    if wide_colours:
        block.get_ifd(0x8769)[0xA001] = 65535
        block.get_ifd(0x8769)[0xA005] = {1: "R03", 2: b"0100"}
    return block.tobytes()


# --- JPEG ---------------------------------------------------------------------------------------------------------


def djpeg(path):
    return from_ppm(run("djpeg", "-dct", "int", "-ppm", path))


def jpegs():
    source = ppm(SMOOTH)
    for sampling in ("1x1", "2x1", "1x2", "2x2", "4x1", "4x2"):
        for quality in ("40", "75", "92"):
            for kind in ("baseline", "progressive"):
                words = ["cjpeg", "-quality", quality, "-sample", sampling]
                if kind == "progressive":
                    words.append("-progressive")
                put(f"jpeg-{sampling}-{quality}-{kind}.jpg", lambda p, w=words: run(*w, data=source), djpeg, least=50)
    put("jpeg-grey.jpg", lambda p: run("cjpeg", "-grayscale", "-quality", "88", data=source), djpeg, least=50)
    put("jpeg-restarts.jpg", lambda p: run("cjpeg", "-restart", "3", "-sample", "2x2", data=source), djpeg, least=50)
    put("jpeg-rgb.jpg", lambda p: run("cjpeg", "-rgb", "-quality", "90", data=source), djpeg, least=50)
    put("jpeg-arithmetic.jpg", lambda p: run("cjpeg", "-arithmetic", data=source), djpeg, least=50, ordinary=False)
    put("jpeg-optimised.jpg", lambda p: run("cjpeg", "-optimize", data=source), djpeg, least=50)
    picture = Image.fromarray(SMOOTH)
    for orientation in range(1, 9):
        put(
            f"jpeg-turned-{orientation}.jpg",
            lambda p, o=orientation: saved(picture, "JPEG", quality=90, exif=exif(o)),
            lambda p, o=orientation: upright(djpeg(p), o),
            least=50,
        )
    put(
        "jpeg-profile-srgb.jpg",
        lambda p: saved(picture, "JPEG", quality=90, icc_profile=ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()),
        djpeg,
        least=50,
    )
    put("jpeg-profile-wide.jpg", lambda p: saved(picture, "JPEG", quality=90, icc_profile=profile("a98.icc")), djpeg, least=50, space="oprgb")
    put("jpeg-camera-wide.jpg", lambda p: saved(picture, "JPEG", quality=90, exif=exif(1, True)), djpeg, least=50, space="oprgb")
    whole = saved(picture, "JPEG", quality=90)
    put("jpeg-no-end.jpg", lambda p: whole[:-2], lambda p: from_ppm(run("djpeg", "-ppm", data=whole)), least=50)
    put("jpeg-cut.jpg", lambda p: whole[: len(whole) // 2], expect="refused")
    put("jpeg-cmyk.jpg", lambda p: saved(picture.convert("CMYK"), "JPEG"), expect="refused", says="inks", ordinary=False)
    put("jpeg-magick.jpg", lambda p: run("convert", "-", "-quality", "85", "jpg:-", data=source), djpeg, least=50)
    put("jpeg-profile-table.jpg", lambda p: saved(picture, "JPEG", quality=90, icc_profile=table_profile(3)), djpeg, least=40)
    put("jpeg-after.jpg", lambda p: whole + b"\0" * 300, lambda p: from_ppm(run("djpeg", "-ppm", data=whole)), least=50)


# --- PNG ----------------------------------------------------------------------------------------------------------


def png(colour, depth, rows, *chunks):
    """A PNG file by hand, for the chunks that no library writes; `rows` are packed, without their filters."""
    def chunk(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))
    head = struct.pack(">IIBBBBB", WIDTH, HEIGHT, depth, colour, 0, 0, 0)
    body = b"".join(b"\0" + row for row in rows)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + b"".join(chunk(*c) for c in chunks) + chunk(b"IDAT", zlib.compress(body)) + chunk(b"IEND", b"")


def packed(samples, depth):
    shifts = 8 // depth
    padded = numpy.zeros((samples.shape[0], -(-samples.shape[1] // shifts) * shifts), numpy.uint8)
    padded[:, : samples.shape[1]] = samples
    out = numpy.zeros((samples.shape[0], padded.shape[1] // shifts), numpy.uint8)
    for i in range(shifts):
        out |= padded[:, i::shifts] << (8 - depth * (i + 1))
    return [row.tobytes() for row in out]


def pngs():
    rgba = numpy.dstack([RGB8, OPACITY8])
    images = {
        "rgb": (Image.fromarray(RGB8), RGB8),
        "grey": (Image.fromarray(GREY8), GREY8),
        "opacity": (Image.fromarray(rgba), on_white(RGB8, OPACITY8, 255)),
        "grey-opacity": (Image.fromarray(numpy.dstack([GREY8, OPACITY8])), on_white(GREY8, OPACITY8, 255)),
        "grey-16": (Image.fromarray(GREY16), GREY16),
    }
    for name, (image, truth) in images.items():
        bits = 16 if name.endswith("16") else 8
        put(f"png-{name}.png", lambda p, i=image: saved(i, "PNG"), truth, bits=bits)
        put(f"png-{name}-interlaced.png", lambda p, i=image: run("convert", "-", "-interlace", "PNG", "png:-", data=saved(i, "PNG")), truth, bits=bits)
    for interlace in ("none", "PNG"):
        put(f"png-rgb-16-{interlace}.png", lambda p, i=interlace: run("convert", "-", "-interlace", i, "png48:-", data=ppm(RGB16)), RGB16, bits=16)
        put(f"png-opacity-16-{interlace}.png", lambda p, i=interlace: run("convert", "-", "-alpha", "opaque", "-interlace", i, "png64:-", data=ppm(RGB16)), RGB16, bits=16)
        for colours in (2, 4, 16, 200):
            image = Image.fromarray(RGB8).quantize(colours)
            put(
                f"png-palette-{colours}-{interlace}.png",
                lambda p, i=image, k=interlace: run("convert", "-", "-interlace", k, "png8:-", data=saved(i, "PNG")),
                numpy.asarray(image.convert("RGB")),
            )
        for depth in (1, 2, 4):
            top = 2**depth - 1
            few = (GREY8.astype(int) * top + 127) // 255
            grey = (few * (255 // top)).astype(numpy.uint8)
            put(
                f"png-grey-{depth}-{interlace}.png",
                lambda p, g=grey, d=depth, k=interlace: run("convert", "-", "-interlace", k, "-depth", str(d), "-define", f"png:bit-depth={d}", "-define", "png:color-type=0", "png:-", data=ppm(g)),
                grey,
            )
    rows8 = [row.tobytes() for row in RGB8]
    for depth in (1, 2, 4, 8):
        image = Image.fromarray(RGB8).quantize(2**depth)
        index = numpy.asarray(image)
        colours = numpy.asarray(image.getpalette()[: 3 * 2**depth], numpy.uint8)
        if len(colours) <= int(index.max()):
            continue
        put(f"png-palette-{depth}-bits.png", lambda p, i=index, d=depth, c=colours: png(3, d, packed(i, d), (b"PLTE", c.tobytes())), numpy.asarray(image.convert("RGB")))
        clear = numpy.full((HEIGHT, WIDTH), 255)
        clear[index == 1] = 40
        put(
            f"png-palette-{depth}-clear.png",
            lambda p, i=index, d=depth, c=colours: png(3, d, packed(i, d), (b"PLTE", c.tobytes()), (b"tRNS", bytes([255, 40]))),
            on_white(numpy.asarray(image.convert("RGB")), clear, 255),
        )
    clear = numpy.where((RGB8 == [204, 64, 51]).all(axis=2), 0, 255)
    put("png-rgb-clear.png", lambda p: png(2, 8, rows8, (b"tRNS", struct.pack(">HHH", 204, 64, 51))), on_white(RGB8, clear, 255))
    clear = numpy.where(GREY8 == GREY8[50, 10], 0, 255)
    put("png-grey-clear.png", lambda p: png(0, 8, [row.tobytes() for row in GREY8], (b"tRNS", struct.pack(">H", int(GREY8[50, 10])))), on_white(GREY8, clear, 255))
    # as its writers mean it: the number that stands for the curve of sRGB
    put("png-gamma-45455.png", lambda p: png(2, 8, rows8, (b"gAMA", struct.pack(">I", 45455))), RGB8)
    for gamma in (55556, 100000):
        put(f"png-gamma-{gamma}.png", lambda p, g=gamma: png(2, 8, rows8, (b"gAMA", struct.pack(">I", g))), srgb((RGB8 / 255.0) ** (100000 / gamma)), bits=16, least=60)
    p3 = struct.pack(">8I", 31270, 32900, 68000, 32000, 26500, 69000, 15000, 6000)
    put("png-p3-chromaticities.png", lambda p: png(2, 8, rows8, (b"gAMA", struct.pack(">I", 45455)), (b"cHRM", p3)), srgb((RGB8 / 255.0) ** 2.2), bits=16, least=60, space="display-p3")
    put("png-srgb.png", lambda p: png(2, 8, rows8, (b"sRGB", b"\0"), (b"gAMA", struct.pack(">I", 45455))), RGB8)
    put("png-coded-p3.png", lambda p: png(2, 8, rows8, (b"cICP", bytes([12, 13, 0, 1]))), RGB8, space="display-p3")
    put("png-coded-rec2020.png", lambda p: png(2, 8, rows8, (b"cICP", bytes([9, 1, 0, 1]))), RGB8, space="rec2020")
    put("png-coded-first.png", lambda p: png(2, 8, rows8, (b"cICP", bytes([12, 13, 0, 1])), (b"sRGB", b"\0")), RGB8, space="display-p3")
    put("png-pq.png", lambda p: png(2, 8, rows8, (b"cICP", bytes([9, 16, 0, 1]))), expect="refused")
    put("png-hlg.png", lambda p: png(2, 8, rows8, (b"cICP", bytes([9, 18, 0, 1]))), expect="refused")
    for name, space in (("srgb.icc", "srgb"), ("a98.icc", "oprgb")):
        put(f"png-profile-{space}.png", lambda p, n=name: saved(Image.fromarray(RGB8), "PNG", icc_profile=profile(n)), RGB8, space=space)
    # its curve is a power alone, ours has a foot; and colours that no surface has are not kept
    soft = RGB8 // 2 + 60
    light = (soft / 255.0) ** (461 / 256)
    put("png-profile-romm.png", lambda p: saved(Image.fromarray(soft), "PNG", icc_profile=profile("rommrgb.icc")), numpy.round(light ** (1 / 1.8) * 65535), bits=16, least=60, space="romm")
    put("png-profile-grey.png", lambda p: saved(Image.fromarray(GREY8), "PNG", icc_profile=profile("sgray.icc")), srgb((GREY8 / 255.0) ** (461 / 256)), bits=16, least=60)
    put("png-profile-table.png", lambda p: saved(Image.fromarray(RGB8), "PNG", icc_profile=table_profile(3)), RGB8, least=38)
    put("png-profile-grey-table.png", lambda p: saved(Image.fromarray(GREY8), "PNG", icc_profile=table_profile(1)), GREY8, least=55)
    whole = saved(Image.fromarray(RGB8), "PNG")
    put("png-cut.png", lambda p: whole[: len(whole) * 2 // 3], expect="refused")
    spoilt = bytearray(whole)
    spoilt[len(whole) // 2] ^= 85
    put("png-spoilt.png", lambda p: bytes(spoilt), expect="refused")
    for orientation in (3, 6):
        put(f"png-turned-{orientation}.png", lambda p, o=orientation: saved(Image.fromarray(RGB8), "PNG", exif=exif(o)), upright(RGB8, orientation))


# --- TIFF ---------------------------------------------------------------------------------------------------------


def tiffs():
    def write(**words):
        def to(path):
            data = words.pop("data") if "data" in words else RGB8
            tifffile.imwrite(path, data, **words)
        return to

    for order in "<>":
        side = "little" if order == "<" else "big"
        for compression in (None, "lzw", "deflate", "packbits"):
            packing = compression or "plain"
            for predictor in (None, 2) if compression in ("lzw", "deflate") else (None,):
                tail = f"{side}-{packing}{'-differences' if predictor else ''}"
                words = dict(byteorder=order, compression=compression, predictor=predictor, photometric="rgb")
                put(f"tiff-8-{tail}.tif", write(data=RGB8, **words), RGB8)
                put(f"tiff-16-{tail}.tif", write(data=RGB16, **words), RGB16, bits=16)
        for compression in ("lzw", "deflate", None):
            packing = compression or "plain"
            for kind in ("float16", "float32"):
                light = (RGB16 / 65535.0).astype(kind)
                for predictor in (None, 3) if compression else (None,):
                    name = f"tiff-{kind}-{side}-{packing}{'-differences' if predictor else ''}.tif"
                    put(name, write(data=light, byteorder=order, compression=compression, predictor=predictor, photometric="rgb"), numpy.round(light.astype(float) * 65535), bits=16, least=60)
        put(f"tiff-grey-{side}.tif", write(data=GREY16, byteorder=order, photometric="minisblack"), GREY16, bits=16)
        put(f"tiff-grey-inverted-{side}.tif", write(data=255 - GREY8, byteorder=order, photometric="miniswhite"), GREY8)
        put(f"tiff-big-{side}.tif", write(data=RGB16, byteorder=order, bigtiff=True, photometric="rgb", compression="deflate"), RGB16, bits=16)
        put(f"tiff-big-tiled-{side}.tif", write(data=RGB8, byteorder=order, bigtiff=True, photometric="rgb", tile=(32, 32)), RGB8)
        put(f"tiff-tiled-{side}.tif", write(data=RGB16, byteorder=order, photometric="rgb", tile=(16, 48), compression="lzw", predictor=2), RGB16, bits=16)
        put(f"tiff-planes-{side}.tif", write(data=numpy.moveaxis(RGB8, 2, 0), byteorder=order, photometric="rgb", planarconfig="separate"), RGB8)
        put(f"tiff-planes-16-{side}.tif", write(data=numpy.moveaxis(RGB16, 2, 0), byteorder=order, photometric="rgb", planarconfig="separate", compression="lzw"), RGB16, bits=16)
    put("tiff-strips.tif", write(data=RGB8, photometric="rgb", rowsperstrip=7, compression="lzw"), RGB8)
    rgba = numpy.dstack([RGB8, OPACITY8])
    put("tiff-opacity.tif", write(data=rgba, photometric="rgb", extrasamples=["unassalpha"]), on_white(RGB8, OPACITY8, 255))
    multiplied = numpy.dstack([numpy.round(RGB8 * (OPACITY8[..., None] / 255)).astype(numpy.uint8), OPACITY8])
    put("tiff-multiplied.tif", write(data=multiplied, photometric="rgb", extrasamples=["assocalpha"]), on_white(RGB8, OPACITY8, 255), least=50)
    put("tiff-unspecified.tif", write(data=rgba, photometric="rgb", extrasamples=["unspecified"]), RGB8)
    put("tiff-two-extra.tif", write(data=numpy.dstack([rgba, GREY8]), photometric="rgb", extrasamples=["unassalpha", "unspecified"]), on_white(RGB8, OPACITY8, 255))
    put("tiff-grey-opacity.tif", write(data=numpy.dstack([GREY8, OPACITY8]), photometric="minisblack", planarconfig="contig", extrasamples=["unassalpha"]), on_white(GREY8, OPACITY8, 255))
    index = numpy.asarray(Image.fromarray(RGB8).quantize(64))
    colours = numpy.asarray(Image.fromarray(RGB8).quantize(64).getpalette(), numpy.uint16).reshape(-1, 3)
    table = numpy.zeros((3, 256), numpy.uint16)
    table[:, : len(colours)] = colours.T * 257
    put("tiff-palette.tif", write(data=index.astype(numpy.uint8), photometric="palette", colormap=table), numpy.asarray(Image.fromarray(RGB8).quantize(64).convert("RGB")))
    black = GREY8 > 120
    put("tiff-1.tif", write(data=black, photometric="minisblack"), black.astype(numpy.uint8) * 255)
    put("tiff-1-packed.tif", write(data=black, photometric="minisblack", compression="packbits"), black.astype(numpy.uint8) * 255)
    def nan(path):
        light = (RGB16 / 65535.0).astype("float32")
        light[30:34, 80:90] = numpy.nan
        light[36:39, 80:90] = 4.0
        light[5, 94] = numpy.inf
        tifffile.imwrite(path, light, photometric="rgb")
    bright = RGB16.copy()
    bright[30:34, 80:90] = 0
    bright[36:39, 80:90] = 65535
    bright[5, 94] = 65535
    put("tiff-no-number.tif", nan, bright, bits=16, least=60)
    for resolution in (4, 2):
        def pages(path, r=resolution):
            with tifffile.TiffWriter(path) as file:
                file.write(RGB8[::r, ::r], photometric="rgb", subfiletype=1)
                file.write(RGB8, photometric="rgb")
        put(f"tiff-small-first-{resolution}.tif", pages, RGB8)
    put("tiff-jpeg.tif", write(data=SMOOTH, photometric="ycbcr", compression="jpeg", compressionargs={"level": 95}), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=45)
    put("tiff-jpeg-rgb.tif", write(data=SMOOTH, photometric="rgb", compression="jpeg", compressionargs={"level": 95, "outcolorspace": "rgb"}), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=45)
    put("tiff-jpeg-tiled.tif", write(data=SMOOTH, photometric="ycbcr", compression="jpeg", tile=(64, 64)), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=45)
    put("tiff-jpeg-strips.tif", write(data=SMOOTH, photometric="ycbcr", compression="jpeg", rowsperstrip=16), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=45)
    put("tiff-jpeg-grey.tif", write(data=SMOOTH[..., 1], photometric="minisblack", compression="jpeg"), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=45)
    def by_tiffcp(path):
        tifffile.imwrite(path + ".plain", SMOOTH, photometric="rgb")
        run("tiffcp", "-r", "16", "-c", "jpeg:90", path + ".plain", path)
        os.remove(path + ".plain")
    put("tiff-jpeg-tables.tif", by_tiffcp, lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=45)
    for name, compression in (("zstd", "zstd"), ("lzma", "lzma"), ("webp", "webp"), ("jpegxl", "jpegxl"), ("jpeg2000", "jpeg2000")):
        put(f"tiff-{name}.tif", write(data=RGB8, photometric="rgb", compression=compression), expect="refused", says={"jpegxl": "JPEG XL", "jpeg2000": "JPEG 2000"}.get(name, name.upper()), ordinary=False)
    def filled(order):
        def to(path):
            tifffile.imwrite(path + ".plain", black, photometric="minisblack")
            run("tiffcp", "-f", order, "-c", "packbits", path + ".plain", path)
            os.remove(path + ".plain")
        return to
    put("tiff-1-turned-bits.tif", filled("lsb2msb"), black.astype(numpy.uint8) * 255)
    def turned8(path):
        tifffile.imwrite(path + ".plain", RGB8, photometric="rgb")
        run("tiffcp", "-f", "lsb2msb", "-c", "none", path + ".plain", path)
        os.remove(path + ".plain")
    put("tiff-8-turned-bits.tif", turned8, RGB8)
    for mode, source in (("LZW", RGB8), ("Zip", RGB16), ("None", GREY8), ("RLE", RGB8)):
        put(f"tiff-magick-{mode}.tif", lambda p, m=mode, s=source: carry_out("convert", "-", "-compress", m, "tiff:" + p, data=ppm(s)), source, bits=16 if source.dtype != numpy.uint8 else 8)
    for depth in (2, 4):
        top = 2**depth - 1
        grey = (((GREY8.astype(int) * top + 127) // 255) * (255 // top)).astype(numpy.uint8)
        put(f"tiff-{depth}.tif", lambda p, g=grey, d=depth: carry_out("convert", "-", "-depth", str(d), "-compress", "None", "tiff:" + p, data=ppm(g)), grey)
    put("tiff-pillow.tif", lambda p: saved(Image.fromarray(RGB8), "TIFF", compression="tiff_lzw"), RGB8)
    put("tiff-pillow-deflate.tif", lambda p: saved(Image.fromarray(RGB8), "TIFF", compression="tiff_adobe_deflate"), RGB8)
    put("tiff-cmyk.tif", lambda p: saved(Image.fromarray(RGB8).convert("CMYK"), "TIFF"), expect="refused", says="inks", ordinary=False)
    put("tiff-lab.tif", lambda p: saved(Image.merge("LAB", Image.fromarray(RGB8).split()), "TIFF"), expect="refused", ordinary=False)
    put("tiff-fax.tif", lambda p: saved(Image.fromarray(black), "TIFF", compression="group4"), expect="refused", says="fax", ordinary=False)
    for orientation in (2, 6):
        put(f"tiff-turned-{orientation}.tif", write(data=RGB8, photometric="rgb", extratags=[(274, 3, 1, orientation, True)]), upright(RGB8, orientation))
    for name, space in (("a98.icc", "oprgb"), ("srgb.icc", "srgb")):
        put(f"tiff-profile-{space}.tif", write(data=RGB16, photometric="rgb", iccprofile=profile(name)), RGB16, bits=16, space=space, least=None if space == "oprgb" else 45)
    whole = io.BytesIO()
    tifffile.imwrite(whole, RGB16, photometric="rgb")
    put("tiff-cut.tif", lambda p: whole.getvalue()[: len(whole.getvalue()) // 2], expect="refused")
    put("tiff-complex.tif", write(data=(GREY8 + 0j).astype("complex64")), expect="refused", ordinary=False)
    put("tiff-32.tif", write(data=RGB16.astype(numpy.uint32) * 65537, photometric="rgb"), RGB16, bits=16, ordinary=False)
    put("tiff-float64.tif", write(data=RGB16 / 65535.0, photometric="rgb"), RGB16, bits=16, least=60, ordinary=False)


# --- WebP ---------------------------------------------------------------------------------------------------------


def webps():
    def source(samples, kind="png"):
        path = os.path.join(FOLDER, ".source." + kind)
        Image.fromarray(samples).save(path)
        return path

    def cwebp(samples, *words):
        return lambda p: carry_out("cwebp", "-quiet", *words, source(samples), "-o", p)

    def dwebp(path):
        return from_ppm(run("dwebp", path, "-ppm", "-o", "-"))

    put("webp-lossless.webp", cwebp(RGB8, "-lossless", "-exact"), RGB8)
    put("webp-opacity.webp", cwebp(numpy.dstack([RGB8, OPACITY8]), "-lossless", "-exact"), on_white(RGB8, OPACITY8, 255))
    for quality in ("40", "75", "95"):
        put(f"webp-{quality}.webp", cwebp(SMOOTH, "-q", quality), dwebp, least=45)
    put("webp-near.webp", cwebp(SMOOTH, "-near_lossless", "60"), dwebp, least=45)
    put("webp-sharp.webp", cwebp(SMOOTH, "-sharp_yuv"), dwebp, least=45)
    put("webp-magick.webp", lambda p: run("convert", "-", "-define", "webp:lossless=true", "webp:-", data=ppm(RGB8)), RGB8)
    put("webp-pillow.webp", lambda p: saved(Image.fromarray(SMOOTH), "WEBP", quality=80), dwebp, least=45)
    for orientation in (6, 8):
        put(f"webp-turned-{orientation}.webp", lambda p, o=orientation: saved(Image.fromarray(RGB8), "WEBP", lossless=True, exif=exif(o)), upright(RGB8, orientation))
    put("webp-profile.webp", lambda p: saved(Image.fromarray(RGB8), "WEBP", lossless=True, icc_profile=profile("a98.icc")), RGB8, space="oprgb")
    moving = lambda p: saved(Image.fromarray(RGB8), "WEBP", lossless=True, save_all=True, append_images=[Image.fromarray(255 - RGB8)], duration=100)
    put("webp-moving.webp", moving, RGB8)
    def img2webp(path):
        first, second = os.path.join(FOLDER, ".a.png"), os.path.join(FOLDER, ".b.png")
        Image.fromarray(SMOOTH).save(first)
        Image.fromarray(255 - SMOOTH).save(second)
        run("img2webp", "-lossless", first, second, "-o", path)
    put("webp-moving-two.webp", img2webp, SMOOTH)
    def part_moving(path):
        frames = [numpy.dstack([RGB8, OPACITY8]), numpy.dstack([255 - RGB8, OPACITY8])]
        images = [Image.fromarray(f) for f in frames]
        return saved(images[0], "WEBP", lossless=True, exact=True, save_all=True, append_images=images[1:], duration=100)
    put("webp-moving-clear.webp", part_moving, on_white(RGB8, OPACITY8, 255))
    whole = saved(Image.fromarray(RGB8), "WEBP", lossless=True)
    put("webp-cut.webp", lambda p: whole[: len(whole) // 2], expect="refused")


# --- AVIF and HEIF ------------------------------------------------------------------------------------------------


def avifs():
    def source(samples):
        path = os.path.join(FOLDER, ".source.png")
        data = run("convert", "-", "png48:-", data=ppm(samples)) if samples.dtype != numpy.uint8 else saved(Image.fromarray(samples), "PNG")
        with open(path, "wb") as file:
            file.write(data)
        return path

    def avifenc(samples, *words):
        return lambda p: carry_out("avifenc", "-s", "8", *words, source(samples), p)

    def avifdec(path):
        out = os.path.join(FOLDER, ".out.png")
        run("avifdec", "--ignore-icc", "-d", "16", path, out)
        data = run("convert", out, "-depth", "16", "ppm:-")
        start = len(b"P6\n%d %d\n65535\n" % tuple(int(v) for v in data.split(b"\n")[1].split()))
        w, h = (int(v) for v in data.split(b"\n")[1].split())
        return numpy.frombuffer(data[start:], ">u2").reshape(h, w, 3)

    lossless = ("-l",)
    put("avif-lossless.avif", avifenc(RGB8, *lossless), RGB8)
    put("avif-lossless-opacity.avif", avifenc(numpy.dstack([RGB8, OPACITY8]), *lossless), on_white(RGB8, OPACITY8, 255), least=60)
    for depth in ("8", "10", "12"):
        for sampling in ("444", "422", "420"):
            put(f"avif-{depth}-{sampling}.avif", avifenc(SMOOTH, "-d", depth, "-y", sampling, "--min", "5", "--max", "15"), avifdec, bits=16, least=40)
    for depth in ("10", "12"):
        top = 2 ** int(depth) - 1
        few = numpy.round(RGB16 / 65535 * top) / top * 65535
        put(f"avif-{depth}-exact.avif", avifenc(RGB16, "-d", depth, "-y", "444", "--min", "0", "--max", "0", "--cicp", "1/13/0", "-r", "full"), numpy.round(few), bits=16, least=72)
    put("avif-grey.avif", avifenc(GREY8, "-y", "400", "--min", "0", "--max", "0"), GREY8, least=45)
    put("avif-limited.avif", avifenc(SMOOTH, "-r", "limited", "--min", "5", "--max", "15"), avifdec, bits=16, least=40)
    for quarters in range(1, 4):
        put(f"avif-turned-{quarters}.avif", avifenc(RGB8, *lossless, "--irot", str(quarters)), numpy.rot90(RGB8, quarters))
    put("avif-mirrored-0.avif", avifenc(RGB8, *lossless, "--imir", "0"), RGB8[::-1])
    put("avif-mirrored-1.avif", avifenc(RGB8, *lossless, "--imir", "1"), RGB8[:, ::-1])
    put("avif-turned-mirrored.avif", avifenc(RGB8, *lossless, "--irot", "1", "--imir", "1"), numpy.rot90(RGB8, 1)[:, ::-1])
    put("avif-cropped.avif", avifenc(RGB8, *lossless, "--crop", "8,12,60,40"), RGB8[12:52, 8:68])
    put("avif-cropped-turned.avif", avifenc(RGB8, *lossless, "--crop", "8,12,60,40", "--irot", "1"), numpy.rot90(RGB8[12:52, 8:68], 1))
    for name, codes, space in (("p3", "12/13/0", "display-p3"), ("rec2020", "9/1/0", "rec2020")):
        put(f"avif-coded-{name}.avif", avifenc(RGB8, "-d", "8", "-y", "444", "--min", "0", "--max", "0", "--cicp", codes, "-r", "full"), RGB8, space=space, least=45)
    put("avif-pq.avif", avifenc(RGB8, "-d", "10", "--cicp", "9/16/9"), expect="refused")
    put("avif-hlg.avif", avifenc(RGB8, "-d", "10", "--cicp", "9/18/9"), expect="refused")
    def grid(path):
        big = numpy.tile(SMOOTH, (2, 2, 1))[: 64 * 3, : 64 * 4]
        tiles = []
        for y in range(3):
            for x in range(4):
                tile = os.path.join(FOLDER, f".tile{y}{x}.png")
                Image.fromarray(big[y * 64 : y * 64 + 64, x * 64 : x * 64 + 64]).save(tile)
                tiles.append(tile)
        run("avifenc", "-s", "8", "-l", "--grid", "4x3", *tiles, path)
    put("avif-grid.avif", grid, numpy.tile(SMOOTH, (2, 2, 1))[: 64 * 3, : 64 * 4])
    put("avif-profile.avif", avifenc(RGB8, *lossless, "--icc", PROFILES + "/a98.icc"), RGB8, space="oprgb")
    put("avif-pillow.avif", lambda p: saved(Image.fromarray(SMOOTH), "AVIF", quality=85), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=40)
    for orientation in (3, 5, 6):
        put(f"avif-pillow-turned-{orientation}.avif", lambda p, o=orientation: saved(Image.fromarray(SMOOTH), "AVIF", quality=100, subsampling="4:4:4", exif=exif(o)), upright(SMOOTH, orientation), least=38)
    put("avif-moving.avif", lambda p: saved(Image.fromarray(SMOOTH), "AVIF", quality=85, save_all=True, append_images=[Image.fromarray(255 - SMOOTH)]), lambda p: numpy.asarray(Image.open(p).convert("RGB")), least=38, ordinary=False)
    whole = saved(Image.fromarray(SMOOTH), "AVIF")
    put("avif-cut.avif", lambda p: whole[: len(whole) // 2], expect="refused")


def heifs():
    def heif_enc(samples, *words):
        def to(path):
            source = os.path.join(FOLDER, ".source.png")
            data = run("convert", "-", "png48:-", data=ppm(samples)) if samples.dtype != numpy.uint8 else saved(Image.fromarray(samples), "PNG")
            with open(source, "wb") as file:
                file.write(data)
            run("heif-enc", *words, source, "-o", path)
        return to

    def heif_convert(path):
        out = os.path.join(FOLDER, ".out.png")
        run("heif-convert", path, out)
        return numpy.asarray(Image.open(out).convert("RGB"))

    # this writer keeps to luma and chroma, whatever it is told
    exactly = ("-L", "-p", "chroma=444")
    put("heif-lossless.heic", heif_enc(RGB8, *exactly), RGB8, least=50)
    for quality in ("40", "90"):
        for chroma in ("420", "422", "444"):
            put(f"heif-{quality}-{chroma}.heic", heif_enc(SMOOTH, "-q", quality, "-p", f"chroma={chroma}"), heif_convert, least=40)
    put("heif-opacity.heic", heif_enc(numpy.dstack([RGB8, OPACITY8]), *exactly), on_white(RGB8, OPACITY8, 255), least=45)
    put("heif-thumbnail.heic", heif_enc(SMOOTH, "-q", "90", "-t", "32"), heif_convert, least=40)
    for depth in ("10", "12"):
        put(f"heif-{depth}.heic", heif_enc(RGB16, "-b", depth, *exactly), RGB16, bits=16, least=60 if depth == "10" else 70)
    put("heif-grey.heic", heif_enc(GREY8, "-q", "95"), heif_convert, least=40)
    put("heif-avif.avif", heif_enc(SMOOTH, "-A", "-q", "80", "-p", "chroma=444"), heif_convert, least=40)

    def profiled(path):
        source = os.path.join(FOLDER, ".source.png")
        with open(source, "wb") as file:
            file.write(saved(Image.fromarray(RGB8), "PNG", icc_profile=profile("a98.icc")))
        run("heif-enc", *exactly, source, "-o", path)

    put("heif-profile.heic", profiled, RGB8, space="oprgb", least=50)

    def two(path):
        first, second = os.path.join(FOLDER, ".a.png"), os.path.join(FOLDER, ".b.png")
        Image.fromarray(SMOOTH).save(first)
        Image.fromarray(255 - SMOOTH).save(second)
        run("heif-enc", "-q", "90", "-p", "chroma=444", first, second, "-o", path)

    put("heif-two.heic", two, SMOOTH, least=33)


def main():
    os.makedirs(FOLDER, exist_ok=True)
    for make in (jpegs, pngs, tiffs, webps, avifs, heifs):
        make()
    for name in os.listdir(FOLDER):
        if name.startswith("."):
            os.remove(os.path.join(FOLDER, name))
    with open(os.path.join(FOLDER, "corpus.json"), "w") as file:
        json.dump(entries, file, indent=1)
    for line in sorted(missing):
        print("left out", line, file=sys.stderr)
    print(len(entries), "files")


main()
