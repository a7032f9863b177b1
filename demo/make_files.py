#!/usr/bin/env python3
"""Makes the pictures and meshes that the demo scenes use, in demo/files. Needs nothing but Python."""

import math
import pathlib
import random
import struct
import zlib

FOLDER = pathlib.Path(__file__).parent / "files"


def write_png(name, width, height, pixel):
    """Writes an RGBA picture; `pixel(x, y)` gives four numbers from 0 to 1."""
    rows = bytearray()
    for y in range(height):
        rows.append(0)
        for x in range(width):
            rows.extend(max(0, min(255, round(value * 255))) for value in pixel(x, y))

    def chunk(kind, data):
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 6, 0, 0, 0)
    (FOLDER / name).write_bytes(
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(bytes(rows), 9)) + chunk(b"IEND", b"")
    )


def noise(seed):
    """Smooth noise over the plane, -1 to 1."""
    table = list(range(256))
    random.Random(seed).shuffle(table)

    def corner(x, y, dx, dy):
        angle = table[(table[x & 255] + y) & 255] * 2 * math.pi / 256
        return math.cos(angle) * dx + math.sin(angle) * dy

    def at(x, y):
        x0, y0 = math.floor(x), math.floor(y)
        fx, fy = x - x0, y - y0
        u, v = fx * fx * (3 - 2 * fx), fy * fy * (3 - 2 * fy)
        top = corner(x0, y0, fx, fy) * (1 - u) + corner(x0 + 1, y0, fx - 1, fy) * u
        bottom = corner(x0, y0 + 1, fx, fy - 1) * (1 - u) + corner(x0 + 1, y0 + 1, fx - 1, fy - 1) * u
        return 1.4 * (top * (1 - v) + bottom * v)

    return at


def hull_planks():
    """Weathered planks of the ferry's hull with flaking paint; splinters are cut out of it."""
    grain, patches, fine = noise(3), noise(8), noise(21)

    def pixel(x, y):
        plank = y // 32
        shade = 0.34 + 0.05 * math.sin(plank * 2.3)
        lines = grain(x / 60 + plank * 7.1, y / 2.6) * 0.12 + fine(x / 9, y / 1.3) * 0.05
        wood = [(shade + lines) * c for c in (1.25, 0.92, 0.62)]
        paint = patches(x / 34, y / 22) + 0.35 * fine(x / 6, y / 5)
        if paint > 0.12:
            wear = min(1, (paint - 0.12) * 6)
            color = (0.46, 0.23, 0.17) if plank % 2 == 0 else (0.62, 0.58, 0.5)
            wood = [w * (1 - wear) + (c + lines * 0.6) * wear for w, c in zip(wood, color)]
        seam = min(y % 32, 31 - y % 32)
        dark = 0.45 if seam == 0 else 0.75 if seam == 1 else 1
        return [c * dark for c in wood] + [1]

    write_png("hull_planks.png", 192, 128, pixel)


def fog_bank():
    """A low bank of fog at dusk, with holes in it: rose above, blue below."""
    wide, fine = noise(5), noise(12)

    def pixel(x, y):
        u, height = x / 384, 1 - y / 160
        clouds = 0.55 + 0.6 * wide(x / 58, y / 34) + 0.25 * fine(x / 21, y / 15)
        bank = max(0.0, min(1.0, (0.62 + 0.18 * wide(x / 90, 3.5) - height) / 0.35))
        ends = max(0.0, min(1.0, min(u, 1 - u) / 0.12))
        alpha = max(0.0, min(1.0, clouds)) * bank * ends * min(1.0, height / 0.06)
        warm = max(0.0, min(1.0, height * 1.5 - 0.1 + 0.25 * wide(x / 70, y / 40 + 9)))
        low, high = (0.44, 0.55, 0.66), (0.93, 0.72, 0.64)
        return [a + (b - a) * warm for a, b in zip(low, high)] + [alpha]

    write_png("fog_bank.png", 384, 160, pixel)


def quay():
    """The ferry's landing at dusk: sky, water, a winch with its chain on the quay. A backdrop for the chain grit."""
    ripple, cloud = noise(5), noise(12)
    width, height = 480, 300

    def averaged(x, y):
        points = [shade((x + dx) / 1.5, (y + dy) / 1.5) for dx in (0.25, 0.75) for dy in (0.25, 0.75)]
        return [sum(channel) / 4 for channel in zip(*points)]

    def shade(x, y):
        t = y / 200
        if t < 0.58:
            sky = [0.16 + 0.5 * t, 0.2 + 0.22 * t, 0.27 + 0.02 * t]
            veil = 0.06 * cloud(x / 70, y / 14)
            color = [c + veil * w for c, w in zip(sky, (1.2, 0.8, 0.6))]
        else:
            glitter = 0.08 * ripple(x / 16, y / 1.6)
            color = [0.2 + glitter * 1.3, 0.19 + glitter, 0.21 + glitter * 0.8]
        # The far bank with reeds, the quay, the winch's drum on its posts.
        bank = 0.57 + 0.012 * ripple(x / 22, 3) + 0.006 * ripple(x / 3, 9)
        if 0.5 * (bank + 0.57) > t > bank - 0.02:
            color = [0.09, 0.1, 0.1]
        if t > 0.8:
            board = 0.02 * (int(x // 26) % 2) + 0.015 * ripple(x / 3, y / 9)
            color = [0.13 + board, 0.115 + board, 0.1 + board]
        drum = math.hypot(x - 172, (y - 132) * 1.02)
        post = abs(x - 146) < 5 or abs(x - 198) < 5
        if post and 112 < y < 165:
            color = [0.07, 0.065, 0.06]
        if drum < 25:
            rim = 0.03 if drum > 22 else 0.015 * (int(drum) % 5 == 0)
            color = [0.085 + rim, 0.075 + rim, 0.07 + rim]
        return color + [1]

    write_png("quay.png", width, height, averaged)


def seed_head():
    """A seed head on its stem: the part `crown` holds the tips from which seeds leave."""
    lines = ["# A seed head: stem, head and crown.", "o seed_head"]
    count = 0

    def ring(height, radius, sides):
        nonlocal count
        first = count + 1
        for i in range(sides):
            angle = 2 * math.pi * i / sides
            lines.append(f"v {radius * math.cos(angle):.4f} {height:.4f} {radius * math.sin(angle):.4f}")
        count += sides
        return first

    def band(lower, upper, sides):
        for i in range(sides):
            j = (i + 1) % sides
            lines.append(f"f {lower + i} {upper + i} {upper + j} {lower + j}")

    def cap(first, sides, upward):
        order = range(sides - 1, -1, -1) if upward else range(sides)
        lines.append("f " + " ".join(str(first + i) for i in order))

    sides = 16
    lines.append("g stem")
    rings = [ring(-2 + 0.5 * i, 0.07 - 0.008 * i, 8) for i in range(4)]
    cap(rings[0], 8, False)
    for a, b in zip(rings, rings[1:]):
        band(a, b, 8)
    cap(rings[-1], 8, True)
    lines.append("g head")
    heads = [ring(-0.5 + 0.13 * i, 0.5 * math.sin(math.pi * (i + 0.6) / 9.2), sides) for i in range(8)]
    cap(heads[0], sides, False)
    for a, b in zip(heads, heads[1:]):
        band(a, b, sides)
    lines.append("g crown")
    rim = ring(0.5, 0.46, sides)
    tips = ring(0.72, 0.62, sides)
    band(heads[-1], rim, sides)
    band(rim, tips, sides)
    cap(tips, sides, True)
    (FOLDER / "seed_head.obj").write_text("\n".join(lines) + "\n")


def salt_crystal():
    """A lump of salt: a cube with its corners cut off unevenly, of length about 1."""
    lines = ["# A salt crystal.", "o salt_crystal"]
    cut = [0.18, 0.3, 0.24, 0.12, 0.28, 0.16, 0.34, 0.2]
    corners, index = [], {}
    for corner in range(8):
        sign = [1 if corner >> axis & 1 else -1 for axis in range(3)]
        for axis in range(3):
            # Where the cut meets the edge that leaves the corner along this axis.
            point = [0.5 * s for s in sign]
            point[axis] -= sign[axis] * cut[corner]
            index[corner, axis] = len(corners) + 1
            corners.append(point)
    lines += ["v %.4f %.4f %.4f" % (x, 0.86 * y, z) for x, y, z in corners]

    def face(points):
        middle = [sum(corners[p - 1][k] for p in points) / len(points) for k in range(3)]
        a, b, c = (corners[p - 1] for p in points[:3])
        normal = [(b[i] - a[i]) * (c[j] - b[j]) - (b[j] - a[j]) * (c[i] - b[i]) for i, j in ((1, 2), (2, 0), (0, 1))]
        outward = sum(n * m for n, m in zip(normal, middle)) > 0
        lines.append("f " + " ".join(map(str, points if outward else points[::-1])))

    for corner in range(8):
        face([index[corner, axis] for axis in range(3)])
    for axis in range(3):
        u, v = [k for k in range(3) if k != axis]
        for side in (0, 1):
            ring = []
            for bits, first, second in ((0, v, u), (1, u, v), (3, v, u), (2, u, v)):
                corner = side << axis | (bits & 1) << u | (bits >> 1) << v
                ring += [index[corner, first], index[corner, second]]
            face(ring)
    (FOLDER / "salt_crystal.obj").write_text("\n".join(lines) + "\n")


def rain_sheet():
    """A large flat sheet of two triangles: drizzle falls from all of its surface, not from its four corners."""
    (FOLDER / "rain_sheet.obj").write_text(
        "# The sheet from which drizzle falls.\no rain_sheet\n"
        "v -7 0 -5\nv 7 0 -5\nv 7 0 3\nv -7 0 3\nf 1 4 3\nf 1 3 2\n"
    )


class Obj:
    """Collects the text of a mesh file."""

    def __init__(self, title, name):
        self.lines = [f"# {title}", f"o {name}"]
        self.count = 0

    def group(self, name):
        self.lines.append(f"g {name}")

    def add(self, points, faces):
        """Faces are corners' numbers from 0, counter-clockwise seen from outside."""
        self.lines.extend("v %.4f %.4f %.4f" % tuple(point) for point in points)
        self.lines.extend("f " + " ".join(str(self.count + corner + 1) for corner in face) for face in faces)
        self.count += len(points)

    def write(self, file):
        (FOLDER / file).write_text("\n".join(self.lines) + "\n")


def swept(outline, low, high):
    """A closed outline, counter-clockwise in x and y, as a solid from z = low to z = high."""
    count = len(outline)
    points = [(x, y, z) for z in (low, high) for x, y in outline]
    faces = [[i for i in reversed(range(count))], [count + i for i in range(count)]]
    for i in range(count):
        j = (i + 1) % count
        faces.append([i, j, count + j, count + i])
    return points, faces


def paddle_wheel():
    """Eight blades about the z axis, radius 1.2, and the spokes that hold them."""
    obj = Obj("A paddle wheel about its z axis.", "paddle_wheel")

    def turned(outline, angle):
        return [(x * math.cos(angle) - y * math.sin(angle), x * math.sin(angle) + y * math.cos(angle))
                for x, y in outline]

    blades, half = 8, 0.035
    for part in ("blades", "spokes"):
        obj.group(part)
        for i in range(blades):
            angle = 2 * math.pi * i / blades
            if part == "blades":
                obj.add(*swept(turned([(0.72, -half), (1.2, -half), (1.2, half), (0.72, half)], angle), -0.5, 0.5))
            else:
                for z in (-0.4, 0.34):
                    obj.add(*swept(turned([(0.0, -0.02), (0.9, -0.02), (0.9, 0.02), (0.0, 0.02)], angle), z, z + 0.06))
    obj.write("paddle_wheel.obj")


def ferry_hull():
    """The ferry's side: a plated wall 8 long that leans outwards to the top, with a rubbing strake."""
    obj = Obj("The side of the ferry's hull, facing z.", "ferry_hull")
    # From the keel up: how far out, and how high.
    outline = [(-1.2, -0.7), (-0.3, -0.7), (-0.08, -0.3), (0.0, 0.6), (0.06, 1.5), (0.2, 1.55), (0.2, 1.72),
               (0.08, 1.77), (0.12, 2.4), (-1.2, 2.4)]
    stations = 12
    count = len(outline)
    points, faces = [], []
    for s in range(stations + 1):
        x = -4 + 8 * s / stations
        # The sides draw in towards the bow.
        inward = 0.5 * max(0.0, (x - 1.5) / 2.5) ** 2
        points.extend((x, y, max(-1.2, z - inward)) for z, y in outline)
    for s in range(stations):
        for i in range(count):
            j = (i + 1) % count
            a, b = s * count, (s + 1) * count
            faces.append([a + i, b + i, b + j, a + j])
    faces.append(list(range(count)))
    faces.append([stations * count + i for i in reversed(range(count))])
    obj.add(points, faces)
    obj.write("ferry_hull.obj")


def drying_net():
    """A fishing net hung up to dry between two posts: diamond meshes that sag between their knots."""
    obj = Obj("A net hung up to dry.", "drying_net")
    columns, rows, width, height = 15, 8, 5.2, 2.5
    index, points, faces = {}, [], []

    def corner(i, j):
        if (i, j) not in index:
            across, down = i / (2 * columns) - 0.5, j / (2 * rows)
            sag = 0.5 * (4 * across * across) + 0.1 * down * math.sin(5 * across)
            bulge = 0.07 * math.sin(7 * across + 3 * down) * (1 - 0.4 * down)
            index[i, j] = len(points)
            points.append((across * width, 3.35 - height * down + 0.35 * (sag - 0.3), bulge))
        return index[i, j]

    for j in range(2 * rows - 1):
        for i in range(1 + j % 2, 2 * columns, 2):
            faces.append([corner(i, j), corner(i - 1, j + 1), corner(i, j + 2), corner(i + 1, j + 1)])
    obj.add(points, faces)
    obj.write("drying_net.obj")


def deck_hatch():
    """A deck of 6 by 6, 0.2 thick, with its top at y = 0, and a square hatch in its middle."""
    obj = Obj("A deck with a hatch.", "deck_hatch")
    half, opening, depth = 3.0, 0.55, 0.2
    corners = [(-1, -1), (-1, 1), (1, 1), (1, -1)]
    # Four corners each: outside at the top, the hatch at the top, then both at the bottom.
    points = [(x * size, height, z * size) for height in (0.0, -depth) for size in (half, opening) for x, z in corners]
    faces = []
    for i in range(4):
        j = (i + 1) % 4
        faces += [[i, j, 4 + j, 4 + i], [8 + j, 8 + i, 12 + i, 12 + j],
                  [8 + i, 8 + j, j, i], [12 + j, 12 + i, 4 + i, 4 + j]]
    obj.add(points, faces)
    obj.write("deck_hatch.obj")


def boiler_plate():
    """A torn piece of bent plate, about 1 across."""
    obj = Obj("A torn piece of a boiler's plate.", "boiler_plate")
    outline = [(-0.5, -0.22), (-0.1, -0.34), (0.18, -0.2), (0.46, -0.3), (0.5, 0.1), (0.2, 0.2), (0.05, 0.38), (-0.3, 0.26)]
    points, faces = swept(outline, -0.03, 0.03)
    obj.add([(x, y, z + 0.5 * x * x) for x, y, z in points], faces)
    obj.write("boiler_plate.obj")


def tube(rings):
    """A closed solid through rings of as many points each, counter-clockwise about the way from the first on."""
    count, points = len(rings[0]), [point for ring in rings for point in ring]
    faces = [list(reversed(range(count))), [len(points) - count + i for i in range(count)]]
    for r in range(len(rings) - 1):
        for i in range(count):
            j, low = (i + 1) % count, r * count
            faces.append([low + i, low + j, low + count + j, low + count + i])
    return points, faces


def kettle():
    """A round kettle about the y axis with its bottom at y = 0; its spout ends at (0.52, 0.72)."""
    obj = Obj("A kettle.", "kettle")
    sides = 28

    def ring(center, along, radius, count):
        """A ring in the plane of the z axis and the one across `along`, which lies in that of x and y."""
        (x, y), (ax, ay) = center, along
        length = math.hypot(ax, ay)
        across = (-ay / length, ax / length)
        angles = [2 * math.pi * i / count for i in range(count)]
        return [(x + radius * math.cos(a) * across[0], y + radius * math.cos(a) * across[1], radius * math.sin(a))
                for a in angles]

    obj.group("body")
    profile = [(0.3, 0.0), (0.38, 0.05), (0.4, 0.2), (0.37, 0.38), (0.28, 0.54), (0.19, 0.62),
               (0.18, 0.66), (0.1, 0.71), (0.03, 0.73), (0.03, 0.76), (0.055, 0.79), (0.02, 0.83)]
    obj.add(*tube([ring((0, height), (0, 1), radius, sides) for radius, height in profile]))
    obj.group("spout")
    spout = [((0.26, 0.26), 0.1), ((0.38, 0.42), 0.075), ((0.45, 0.58), 0.055), ((0.52, 0.7), 0.045)]
    obj.add(*tube([ring(center, (0.45, 0.75), radius, 12) for center, radius in spout]))
    obj.group("handle")
    arc = [math.pi * (0.04 + 0.92 * i / 14) for i in range(15)]
    obj.add(*tube([ring((-0.31 * math.cos(a), 0.52 + 0.5 * math.sin(a)), (math.sin(a), math.cos(a)), 0.022, 8)
                   for a in arc]))
    obj.write("kettle.obj")


def kelp_jar():
    """The inside of a round jar about the y axis, 2.4 high and 1.8 wide, with a neck; closed."""
    obj = Obj("The inside of a jar.", "kelp_jar")
    sides = 40
    profile = [(0.62, -1.2), (0.76, -1.17), (0.86, -1.07), (0.9, -0.9), (0.9, 0.5), (0.88, 0.66), (0.81, 0.82),
               (0.7, 0.94), (0.58, 1.01), (0.54, 1.06), (0.54, 1.2)]
    angles = [2 * math.pi * i / sides for i in range(sides)]
    obj.add(*tube([[(radius * math.cos(a), height, -radius * math.sin(a)) for a in angles]
                   for radius, height in profile]))
    obj.write("kelp_jar.obj")


def pebble():
    """A pebble, about as long as 1, flattened and with a dull edge; smooth enough to be round in the light."""
    bumps = noise(31)
    rows, sides = 7, 12
    points = [(0.0, 0.36, 0.0)]
    for row in range(1, rows):
        polar = math.pi * row / rows
        for side in range(sides):
            angle = 2 * math.pi * side / sides
            x, y, z = math.sin(polar) * math.cos(angle), math.cos(polar), -math.sin(polar) * math.sin(angle)
            size = 1 + 0.16 * bumps(2.1 * x + 5 + y, 2.1 * z + 9 - y)
            points.append((0.5 * size * x, 0.36 * size * y, 0.44 * size * z))
    points.append((0.0, -0.36, 0.0))

    def at(row, side):
        return 0 if row == 0 else len(points) - 1 if row == rows else 1 + (row - 1) * sides + side % sides

    faces = []
    for row in range(rows):
        for side in range(sides):
            corners = [at(row, side), at(row + 1, side), at(row + 1, side + 1), at(row, side + 1)]
            faces.append([c for k, c in enumerate(corners) if c not in corners[:k]])
    obj = Obj("A pebble.", "pebble")
    obj.add(points, faces)
    obj.write("pebble.obj")


def inside(polygon, x, y):
    """Whether a point lies in a polygon."""
    crossings = False
    for (ax, ay), (bx, by) in zip(polygon, polygon[1:] + polygon[:1]):
        if (ay > y) != (by > y) and x < ax + (y - ay) / (by - ay) * (bx - ax):
            crossings = not crossings
    return crossings


def distance_to_line(points, x, y):
    """From a point to the nearest of a line's pieces."""
    nearest = math.inf
    for (ax, ay), (bx, by) in zip(points, points[1:]):
        length = (bx - ax) ** 2 + (by - ay) ** 2
        t = max(0.0, min(1.0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) if length else 0.0
        nearest = min(nearest, math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y))
    return nearest


def mix(a, b, t):
    """Between two lists of numbers, or of points."""
    return [mix(p, q, t) if isinstance(p, (list, tuple)) else p + (q - p) * t for p, q in zip(a, b)]


def gull_sheet():
    """A gull seen from its right, from gliding to standing with its wings folded, in eight cells; 0, 0 is where
    its feet stand."""
    cells, size, fine = 8, 96, 4
    body = ([(0.52, 0.42), (0.36, 0.5), (0.06, 0.48), (-0.34, 0.36), (-0.62, 0.34), (-0.3, 0.26), (0.1, 0.24), (0.36, 0.3)],
            [(0.36, 0.66), (0.26, 0.66), (0.04, 0.5), (-0.28, 0.3), (-0.62, 0.14), (-0.26, 0.16), (0.1, 0.2), (0.32, 0.42)])
    head = ((0.46, 0.44, 0.11), (0.34, 0.68, 0.12))
    beak = ([(0.54, 0.47), (0.72, 0.4), (0.55, 0.39)], [(0.43, 0.72), (0.6, 0.64), (0.43, 0.64)])
    near = ([(0.22, 0.44), (0.0, 0.44), (-0.3, 0.62), (-0.62, 0.92), (-0.3, 0.88), (0.06, 0.68)],
            [(0.18, 0.5), (0.02, 0.3), (-0.28, 0.2), (-0.72, 0.08), (-0.34, 0.36), (0.0, 0.52)])
    tips = ([(-0.62, 0.92), (-0.3, 0.88), (-0.36, 0.76)], [(-0.72, 0.08), (-0.4, 0.3), (-0.36, 0.2)])
    far = ([(0.24, 0.46), (0.1, 0.46), (0.12, 0.7), (0.3, 0.98), (0.34, 0.72)],
           [(0.18, 0.5), (0.02, 0.4), (-0.2, 0.3), (-0.5, 0.16), (-0.1, 0.42)])
    white, grey, dark, yellow = (0.93, 0.93, 0.9), (0.6, 0.65, 0.69), (0.16, 0.17, 0.19), (0.86, 0.62, 0.2)

    def color(t, x, y):
        """The color at a place of the gull, or nothing beside it."""
        if inside(mix(*beak, t), x, y):
            return yellow
        hx, hy, hr = mix(*head, t)
        if math.hypot(x - hx - 0.05, y - hy - 0.02) < 0.022:
            return dark
        if inside(mix(*tips, t), x, y):
            return dark
        if inside(mix(*near, t), x, y):
            return grey
        if math.hypot(x - hx, y - hy) < hr or inside(mix(*body, t), x, y):
            return white
        if inside(mix(*far, t), x, y):
            return [0.8 * c for c in grey]
        legs = max(0.0, 2 * t - 1)
        if legs and abs(x - 0.02) < 0.07 and abs(abs(x - 0.02) - 0.05) < 0.016 and 0.24 * (1 - legs) < y < 0.26:
            return yellow
        return None

    def pixel(px, py):
        t = px // size / (cells - 1)
        t = t * t * (3 - 2 * t)
        total = [0.0] * 4
        for i in range(fine * fine):
            x = ((px % size) + (i % fine + 0.5) / fine) / size * 1.7 - 0.9
            y = 1.15 - (py + (i // fine + 0.5) / fine) / size * 1.3
            found = color(t, x, y)
            if found:
                total = [a + b for a, b in zip(total, (*found, 1.0))]
        if total[3] == 0:
            return (0, 0, 0, 0)
        return (*[c / total[3] for c in total[:3]], total[3] / fine**2)

    write_png("gull_sheet.png", cells * size, size, pixel)


POSTS = [(-2.6, 1.5, -0.5), (-1.7, 1.15, 0.35), (-0.9, 1.75, -0.25), (-0.05, 1.3, 0.4), (0.75, 1.95, -0.4),
         (1.5, 1.2, 0.25), (2.3, 1.6, -0.3), (-2.15, 0.8, 0.9), (0.35, 0.75, 1.0), (1.95, 0.7, 0.95),
         (-1.3, 0.55, 1.2), (1.15, 0.5, 1.3)]


def mooring_posts():
    """Twelve mooring posts that stand out of the water, and the middles of their tops as vertices."""
    posts = Obj("Mooring posts.", "posts")
    wear = random.Random(12)
    for x, height, z in POSTS:
        radius, angles = 0.13 + 0.04 * wear.random(), [2 * math.pi * (i + wear.random() * 0.3) / 9 for i in range(9)]
        rings = [(radius * 1.08, -2.2), (radius, height - 0.06), (radius * 0.8, height)]
        posts.add(*tube([[(x + r * math.cos(a), y, z - r * math.sin(a)) for a in angles] for r, y in rings]))
    posts.write("mooring_posts.obj")
    head = ["ply", "format ascii 1.0", f"element vertex {len(POSTS)}", "property float x", "property float y",
            "property float z", "end_header"]
    (FOLDER / "mooring_post_tops.ply").write_text("\n".join(head + ["%.4f %.4f %.4f" % post for post in POSTS]) + "\n")


def name_board():
    """The ferry's name with a line around it, as light parts of a picture that is else see-through."""
    letters = {
        "S": [[(0.9, 0.85), (0.6, 1), (0.25, 0.97), (0.08, 0.78), (0.25, 0.58), (0.7, 0.45), (0.9, 0.25), (0.7, 0.04), (0.3, 0), (0.05, 0.16)]],
        "A": [[(0, 0), (0.5, 1), (1, 0)], [(0.2, 0.35), (0.8, 0.35)]],
        "L": [[(0.1, 1), (0.1, 0), (0.85, 0)]],
        "T": [[(0, 1), (1, 1)], [(0.5, 1), (0.5, 0)]],
        "M": [[(0, 0), (0.08, 1), (0.5, 0.35), (0.92, 1), (1, 0)]],
        "R": [[(0.1, 0), (0.1, 1), (0.65, 1), (0.88, 0.77), (0.65, 0.52), (0.1, 0.52)], [(0.5, 0.52), (0.92, 0)]],
        "H": [[(0.08, 0), (0.08, 1)], [(0.92, 0), (0.92, 1)], [(0.08, 0.52), (0.92, 0.52)]],
    }
    width, height, wide, high, apart = 640, 160, 44, 74, 14
    name = "SALTMARSH"
    left, low = (width - len(name) * (wide + apart) + apart) / 2, (height - high) / 2
    cream, teal = (0.95, 0.86, 0.62), (0.36, 0.62, 0.6)
    lines = [([(left + i * (wide + apart) + x * wide, low + y * high) for x, y in line], 6.5, cream)
             for i, letter in enumerate(name) for line in letters[letter]]
    lines.append(([(24, 18), (width - 24, 18), (width - 24, height - 18), (24, height - 18), (24, 18)], 3.5, teal))

    def pixel(px, py):
        x, y = px + 0.5, height - py - 0.5
        cover, color = 0.0, cream
        for points, half, paint in lines:
            if min(p[0] for p in points) - 8 < x < max(p[0] for p in points) + 8:
                here = min(1.0, half - distance_to_line(points, x, y) + 0.5)
                cover, color = max((cover, color), (here, paint))
        return (*color, cover)

    write_png("name_board.png", width, height, pixel)


def ferry_ticket():
    """A paper ticket with a paddle wheel on it, torn off at its notches; its paper is white, to be tinted."""
    width, height = 96, 192
    lines = [([(12, y), (84 - 14 * (i % 3), y)], 1.6) for i, y in enumerate((124, 134, 144, 154))]
    lines.append(([(7, 7), (89, 7), (89, 185), (7, 185), (7, 7)], 1.2))
    lines.append(([(12, 88), (84, 88)], 0.8))
    hub = (48, 48)
    for spoke in range(8):
        angle = spoke * math.pi / 4
        end = (hub[0] + 25 * math.cos(angle), hub[1] + 25 * math.sin(angle))
        lines.append(([hub, end], 1.5))
    rim = [(hub[0] + 27 * math.cos(k * math.pi / 24), hub[1] + 27 * math.sin(k * math.pi / 24)) for k in range(49)]
    lines.append((rim, 2.2))
    lines.append(([(48, 104), (48, 112)], 4.5))

    def pixel(px, py):
        x, y = px + 0.5, py + 0.5
        cover = min(1.0, max(0.0, min(math.hypot(x, y - 100), math.hypot(x - width, y - 100)) - 7))
        cover = min(cover, min(1.0, max(0.0, math.hypot(x - 76, y - 172) - 5)))
        ink = max(min(1.0, max(0.0, half - distance_to_line(points, x, y) + 0.5)) for points, half in lines)
        return (*mix((1.0, 1.0, 1.0), (0.32, 0.26, 0.22), 0.85 * ink), cover)

    write_png("ferry_ticket.png", width, height, pixel)


def turned(name, comment, profile, sides, closes=True):
    """A body of revolution around y: `profile` is a list of (radius, height) from top to bottom."""
    points, rings = [], []
    for radius, height in profile:
        if radius == 0:
            rings.append([len(points)] * sides)
            points.append((0.0, height, 0.0))
            continue
        rings.append(list(range(len(points), len(points) + sides)))
        for side in range(sides):
            angle = 2 * math.pi * side / sides
            points.append((radius * math.cos(angle), height, -radius * math.sin(angle)))
    faces = []
    for upper, lower in zip(rings, rings[1:] + (rings[:1] if not closes else [])):
        for side in range(sides):
            after = (side + 1) % sides
            corners = [upper[side], lower[side], lower[after], upper[after]]
            faces.append([c for k, c in enumerate(corners) if c not in corners[:k]])
    obj = Obj(comment, name)
    obj.add(points, faces)
    obj.write(name + ".obj")


def basic_shapes():
    """Shapes to begin with, as long as 1."""
    arc = [(0.5 * math.sin(math.pi * k / 12), 0.5 * math.cos(math.pi * k / 12)) for k in range(1, 12)]
    turned("ball", "A ball.", [(0, 0.5), *arc, (0, -0.5)], 24)
    turned("cone", "A cone.", [(0, 0.5), (0.5, -0.5), (0, -0.5)], 24)
    turned("cylinder", "A cylinder.", [(0, 0.5), (0.5, 0.5), (0.5, -0.5), (0, -0.5)], 24)
    turned("crystal", "A crystal with six sides and two tips.", [(0, 0.5), (0.17, 0.28), (0.17, -0.3), (0, -0.5)], 6)
    # Counter-clockwise around the tube, so that its faces look outwards.
    tube_profile = [
        (0.38 + 0.12 * math.cos(2 * math.pi * k / 12), -0.12 * math.sin(2 * math.pi * k / 12)) for k in range(12)
    ]
    turned("ring", "A ring.", tube_profile, 32, closes=False)
    corners = [(x, y, z) for x in (-0.5, 0.5) for y in (-0.5, 0.5) for z in (-0.5, 0.5)]
    box = Obj("A box.", "box")
    box.add(corners, [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)])
    box.write("box.obj")
    # Flat and open: it is seen from both sides. Bent along its rib and towards its tip.
    points, faces = [], []
    rows = 8
    for row in range(rows + 1):
        along = row / rows
        half = 0.26 * math.sin(math.pi * min(1.0, 0.06 + 0.94 * along) ** 0.8)
        y = 0.12 * along * along
        points += [(along - 0.5, y + 0.22 * half, -half), (along - 0.5, y, 0.0), (along - 0.5, y + 0.22 * half, half)]
    for row in range(rows):
        a, b = 3 * row, 3 * row + 3
        faces += [(a, a + 1, b + 1, b), (a + 1, a + 2, b + 2, b + 1)]
    leaf = Obj("A leaf.", "leaf")
    leaf.add(points, faces)
    leaf.write("leaf.obj")


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    basic_shapes()
    ferry_ticket()
    gull_sheet()
    mooring_posts()
    name_board()
    kelp_jar()
    pebble()
    kettle()
    deck_hatch()
    boiler_plate()
    paddle_wheel()
    ferry_hull()
    drying_net()
    hull_planks()
    quay()
    fog_bank()
    seed_head()
    rain_sheet()
    salt_crystal()
