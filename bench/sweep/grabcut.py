"""OpenCV's GrabCut on the strokes given; prints the seconds it took. Needs Debian's python3-opencv."""
import json
import sys
import time

import cv2
import numpy as np

picture, strokes, out = sys.argv[1:4]
strokes = json.loads(strokes)
image = cv2.imread(picture)
mask = np.full(image.shape[:2], cv2.GC_PR_BGD, np.uint8)
for key, label in (("in", cv2.GC_FGD), ("out", cv2.GC_BGD)):
    for stroke in strokes.get(key) or []:
        points = np.array(stroke["points"], np.int32).reshape(-1, 1, 2)
        cv2.polylines(mask, [points], False, int(label), thickness=max(1, int(2 * stroke["radius"])))
cv2.setRNGSeed(1)
start = time.perf_counter()
cv2.grabCut(image, mask, None, np.zeros((1, 65)), np.zeros((1, 65)), 5, cv2.GC_INIT_WITH_MASK)
took = time.perf_counter() - start
cv2.imwrite(out, np.where((mask == cv2.GC_FGD) | (mask == cv2.GC_PR_FGD), 255, 0).astype(np.uint8))
print(took)
