"""Puts the outlines of photos.json, traced by eye, on the edges of what they go around.

Within a band of 5 pixels to both sides of an outline OpenCV's GrabCut (Rother, Kolmogorov and Blake, 2004; Debian's
python3-opencv) decides, so that no way of the product's own has a hand in what it is measured against. Look at the result at
400 % before it is kept. Run in this folder: python3 outlines.py
"""
import json

import cv2
import numpy as np

FOLDERS = {
    "opencv-doc/alphamat": "/usr/share/doc/opencv-doc/examples/alphamat/input_images",
    "opencv-doc/hfs": "/usr/share/doc/opencv-doc/examples/hfs/data",
    "opencv-doc": "/usr/share/doc/opencv-doc/examples/data",
    "skimage": "/usr/lib/python3/dist-packages/skimage/data",
    "sklearn": "/usr/lib/python3/dist-packages/sklearn/datasets/images",
}
BAND = 5  # pixels
FINER = 2  # the cut is made at so many times the size,
DRAWN = 8  # and drawn at so many times


def picture(file):
    folder = next(f for f in FOLDERS if file.startswith(f + "/"))
    return cv2.imread(FOLDERS[folder] + file[len(folder):])


def put_on_edge(img, outline):
    h, w = img.shape[:2]
    traced = np.zeros((h * FINER, w * FINER), np.uint8)
    cv2.fillPoly(traced, [np.round(np.array(outline) * FINER).astype(np.int32)], 255)
    side = 2 * BAND * FINER + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    inner, outer = cv2.erode(traced, disc, borderValue=255), cv2.dilate(traced, disc)
    zones = np.where(traced > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    zones[inner > 0], zones[outer == 0] = cv2.GC_FGD, cv2.GC_BGD
    finer = cv2.resize(img, None, fx=FINER, fy=FINER, interpolation=cv2.INTER_CUBIC)
    cv2.grabCut(finer, zones, None, np.zeros((1, 65)), np.zeros((1, 65)), 4, cv2.GC_INIT_WITH_MASK)
    inside = np.where((zones == cv2.GC_FGD) | (zones == cv2.GC_PR_FGD), 255, 0).astype(np.uint8)
    drawn = cv2.resize(cv2.medianBlur(inside, 5), (w * DRAWN, h * DRAWN), interpolation=cv2.INTER_LINEAR)
    curves, _ = cv2.findContours((drawn > 127).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    curve = cv2.approxPolyDP(max(curves, key=cv2.contourArea), 0.4 * DRAWN, True)[:, 0]
    at = (curve + 0.5) / DRAWN
    for axis, end in ((0, w), (1, h)):
        at[at[:, axis] < 0.7, axis], at[at[:, axis] > end - 0.7, axis] = 0, end
    return [[round(float(x), 1), round(float(y), 1)] for x, y in at]


def main():
    with open("photos.json") as f:
        text = f.read()
    for photo in json.loads(text):
        if "whole" not in photo:
            continue
        img = picture(photo["file"])
        if "crop" in photo:
            left, top, right, bottom = photo["crop"]
            img = img[top:bottom, left:right]
        start = text.index('"whole": ', text.index('"name": "%s"' % photo["name"])) + len('"whole": ')
        end = text.index("]]", start) + 2
        text = text[:start] + json.dumps(put_on_edge(img, photo["whole"])) + text[end:]
    with open("photos.json", "w") as f:
        f.write(text)


if __name__ == "__main__":
    main()
