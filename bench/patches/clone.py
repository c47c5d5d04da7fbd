"""Lays a cover with OpenCV: clone.py picture.png cover.png mask.png out.png. All are of one size: the cover lies where it is to be laid.

OpenCV's seamlessClone (NORMAL_CLONE: Perez, Gangnet and Blake, 2003) takes three pixels off the mask on every side first; the mask that it
is given has them more.
"""
import sys

import cv2
import numpy as np

picture, cover = cv2.imread(sys.argv[1]), cv2.imread(sys.argv[2])
mask = cv2.dilate(cv2.imread(sys.argv[3], cv2.IMREAD_GRAYSCALE), np.ones((3, 3), np.uint8), iterations=3)
x, y, w, h = cv2.boundingRect(mask)
out = cv2.seamlessClone(cover, picture, mask, (x + w // 2, y + h // 2), cv2.NORMAL_CLONE)
cv2.imwrite(sys.argv[4], out)
print(cv2.__version__)
