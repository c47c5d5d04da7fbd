#include "common.inc"
// A patterned cushion on a patterned rug: dots on stripes beside lozenges. The part is the cushion with its pattern.
camera { location <0.12, 0.72, -0.92> look_at <0.0, 0.05, 0.02> right x*1.5 angle 32 }
KeyLight(<1.4, 1.8, -0.9>, 0.4, <1, 0.96, 0.90>*1.5)
Dome(<0.36, 0.40, 0.46>, <0.22, 0.20, 0.18>)
#declare Weave = normal { average normal_map { [1 gradient x 0.5 sine_wave scale 0.0035] [1 gradient z 0.5 sine_wave scale 0.0035] [1.5 bozo 0.5 scale 0.06] } }
superellipsoid { <0.55, 0.42> scale <0.20, 0.145, 0.075> rotate x*90 rotate y*(-19) translate y*0.072
  Part( texture { pigment { cells pigment_map { [0 rgb ALB*0.30] [0.5 rgb ALB*0.30] [0.5 rgb ALB*1.05] [1 rgb ALB*1.05] } scale 0.030 rotate <20, 31, 8> warp { turbulence 0.06 } } normal { Weave } finish { ambient 0 diffuse 0.88 } } ) }
// the rug
box { <-1.2, -0.012, -0.9>, <1.2, 0, 1.3>
  Rest( texture { pigment { checker pigment { gradient x color_map { [0 rgb <0.30, 0.17, 0.09>] [0.45 rgb <0.30, 0.17, 0.09>] [0.5 rgb <0.055, 0.05, 0.07>] [1 rgb <0.055, 0.05, 0.07>] } scale 0.03 } pigment { gradient z color_map { [0 rgb <0.34, 0.30, 0.22>] [0.45 rgb <0.34, 0.30, 0.22>] [0.5 rgb <0.11, 0.13, 0.09>] [1 rgb <0.11, 0.13, 0.09>] } scale 0.024 } scale 0.11 rotate y*45 warp { turbulence 0.012 } }
    normal { average normal_map { [1 gradient x 0.6 sine_wave scale 0.006] [1 granite 0.6 scale 0.01] } } finish { ambient 0 diffuse 0.85 } } ) }
