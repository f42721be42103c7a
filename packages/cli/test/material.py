"""Writes invented material with the reference image library: `material.py FOLDER`. Each sub-folder is one case of survey.test.ts."""
import os
import sys
import numpy as np
import OpenImageIO as oiio

top = sys.argv[1]
H, W = 90, 160
AP1 = (0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767)
REC709 = (0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329)


def scene(frame=0, gain=1.0, lamp=8.0):
    """Scene-linear light: soft shapes around mid grey and a lamp far above 1."""
    y, x = np.mgrid[0:H, 0:W]
    base = 0.18 * np.exp2(np.sin(x / 17 + frame * 0.1) * 1.5 + np.cos(y / 11) * 1.3)
    glow = lamp * np.exp(-((x - 120) ** 2 + (y - 30) ** 2) / 30)
    return (np.stack([base * 1.1 + glow, base + glow * 0.8, base * 0.8 + glow * 0.4], 2) * gain).astype(np.float32)


def srgb(v):
    v = np.clip(v, 0, 1)
    return np.where(v <= 0.0031308, v * 12.92, 1.055 * v ** (1 / 2.4) - 0.055).astype(np.float32)


def write(name, pixels, form=oiio.HALF, names=None, display=None, **attributes):
    path = os.path.join(top, name)
    os.makedirs(os.path.dirname(path), exist_ok=True)
    spec = oiio.ImageSpec(pixels.shape[1], pixels.shape[0], pixels.shape[2], form)
    if names:
        spec.channelnames = names
        spec.alpha_channel = names.index("A") if "A" in names else -1
    if display:
        spec.full_x, spec.full_y, spec.full_width, spec.full_height = display
    for key, value in attributes.items():
        if key == "chromaticities":
            spec.attribute("chromaticities", "float[8]", value)
        else:
            spec.attribute(key.replace("__", ":"), value)
    out = oiio.ImageOutput.create(path)
    assert out.open(path, spec), out.geterror()
    assert out.write_image(np.ascontiguousarray(pixels)), out.geterror()
    out.close()


def cut(name, share):
    path = os.path.join(top, name)
    data = open(path, "rb").read()
    open(path, "wb").write(data[: int(len(data) * share)])


depth = np.repeat(np.linspace(2, 40, H, dtype=np.float32)[:, None, None], W, 1)[::-1]

# sound: nothing is wrong with any of these
for f in range(1001, 1007):
    rgba = np.concatenate([scene(f), np.ones((H, W, 1), np.float32)], 2)
    write(f"sound/landing.{f}.exr", rgba, names=["R", "G", "B", "A"], chromaticities=AP1, framesPerSecond=24.0)
for f in range(1, 20, 3):
    write(f"sound/stepped_{f}.exr", scene(f), chromaticities=AP1)
write("sound/night.exr", scene(0, 0.01, 3), chromaticities=AP1)
write("sound/fog.exr", np.clip(scene(0, 0.2, 0) + 0.45, 0, 0.83), chromaticities=AP1)
write("sound/night.png", srgb(scene(0, 0.03, 2)), oiio.UINT8)
write("sound/day.jpg", srgb(scene()), oiio.UINT8)
for f in range(1, 4):
    write(f"sound/.hidden.{f}.exr", scene())

# sets: one file per pass, by token, by folder, with views and a still matte
for f in range(101, 105):
    for name in ("beauty", "diffuse_direct", "rim"):
        write(f"sets/boat_{name}.{f:04d}.exr", scene(f))
    write(f"sets/boat_depth.{f:04d}.exr", depth, oiio.FLOAT, ["Z"])
    for name in ("beauty", "emission"):
        write(f"sets/pier/{name}/pier.{f}.exr", scene(f))
    for eye in ("left", "right"):
        write(f"sets/eyes/buoy_{eye}.{f}.exr", scene(f))
    write(f"sets/plate.{f:04d}.exr", scene(f))
write("sets/boat_matte.exr", (scene()[:, :, :1] > 0.2).astype(np.float32), names=["Y"])
for v in (1, 2):
    for f in (1, 2):
        write(f"sets/kettle_v{v:03d}.{f:02d}.exr", scene(f))

# frames: missing, unreadable, cut short, foreign, twice
for f in range(1001, 1013):
    if f != 1005:
        write(f"frames/a.{f}.exr", scene(f), framesPerSecond=25.0)
cut("frames/a.1003.exr", 0.6)
open(os.path.join(top, "frames/a.1007.exr"), "w").close()
open(os.path.join(top, "frames/a.1008.exr"), "wb").write(b"\x89PNG\r\n\x1a\n" + bytes(400))
open(os.path.join(top, "frames/a.1010.exr"), "wb").write(open(os.path.join(top, "frames/a.1009.exr"), "rb").read())

# shapes: sizes, windows, channels and types that change
for f in range(1, 9):
    write(f"shapes/size.{f:02d}.exr", scene(f)[: H // 2] if f == 3 else scene(f))
    write(f"shapes/window.{f:02d}.exr", scene(f), display=(10, 0, W, H) if f == 4 else None)
    write(f"shapes/channels.{f:02d}.exr", scene(f)[:, :, :2] if f == 5 else scene(f), names=["R", "G"] if f == 5 else None)
    write(f"shapes/types.{f:02d}.exr", scene(f), oiio.FLOAT if f == 6 else oiio.HALF)

# values
bad = scene()
bad[5, 5] = np.nan
bad[7, 7] = -3
bad[8, 8] = 70000
write("values/bad.exr", bad, oiio.FLOAT)
over = scene()
over[9, 9] = np.inf
write("values/over.exr", over, oiio.HALF)

# colour
write("colour/eight.exr", np.round(srgb(scene()) * 255) / 255)
write("colour/encoded.exr", srgb(scene(0, 1.3)))
write("colour/plate_acescg.png", srgb(scene()), oiio.UINT16)
write("colour/render.exr", scene(0, 1, 0))
write("colour/hasty.png", np.clip(scene(0, 1, 0), 0, 1), oiio.UINT8)
write("colour/odd_srgb.exr", scene(), chromaticities=AP1)
write("colour/tagged.exr", scene(), chromaticities=REC709)

# meaning: depth that runs the wrong way, colour that was not multiplied
y, x = np.mgrid[0:H, 0:W].astype(np.float32)
ground = 40 / (y + 4)
position = np.stack([(x - W / 2) * ground / 100, -np.ones_like(ground), ground], 2).astype(np.float32)
channels = ["R", "G", "B", "depth.Z", "position.X", "position.Y", "position.Z"]
for name, z in (("right", ground), ("reversed", 1 / ground)):
    pixels = np.concatenate([scene(), z[:, :, None].astype(np.float32), position], 2)
    write(f"meaning/{name}.exr", pixels, oiio.FLOAT, channels)
sky = ground.copy()
sky[:30] = 0
write("meaning/sky_at_zero.exr", np.concatenate([scene(), sky[:, :, None], position], 2), oiio.FLOAT, channels)
disc = np.clip(40 - np.hypot(x - 80, y - 45) * 1.2, 0, 6)[:, :, None] / 6
flat = np.broadcast_to(np.array([0.6, 0.3, 0.2], np.float32), (H, W, 3))
for name, colour in (("multiplied", flat * disc), ("straight", flat * (disc > 0))):
    write(f"meaning/{name}.exr", np.concatenate([colour, disc], 2).astype(np.float32), names=["R", "G", "B", "A"])

# kinds
write("kinds/a.dpx", (0.4 + 0.07 * np.log2(scene() + 0.01)).astype(np.float32), oiio.UINT16, oiio__BitsPerSample=10)
write("kinds/a.hdr", scene(), oiio.FLOAT)
write("kinds/a.tif", scene(), oiio.FLOAT)
write("kinds/b.tif", srgb(scene()), oiio.UINT16)
