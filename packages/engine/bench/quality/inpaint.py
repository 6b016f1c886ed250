"""Runs a general image library's inpainting over raw float RGB files, for the benchmark alone.

Reads lines "in mask out width height radius" and answers with the milliseconds each took."""
import sys
import time

import cv2
import numpy

for line in sys.stdin:
    source, mask, target, width, height, radius = line.split()
    shape = (int(height), int(width))
    # it rounds what it fills in to whole numbers, floats too: 16 bits keep what there is
    light = numpy.fromfile(source, numpy.float32).reshape(*shape, 3)
    image = numpy.round(light * 65535).astype(numpy.uint16)
    hole = numpy.fromfile(mask, numpy.uint8).reshape(shape)
    start = time.perf_counter()
    planes = [
        cv2.inpaint(numpy.ascontiguousarray(image[:, :, c]), hole, float(radius), cv2.INPAINT_TELEA)
        for c in range(3)
    ]
    elapsed = time.perf_counter() - start
    (numpy.stack(planes, axis=2).astype(numpy.float32) / numpy.float32(65535)).tofile(target)
    print(elapsed * 1000, flush=True)
