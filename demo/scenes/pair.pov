#declare FIBRES = 1; // no light goes to and fro: the ground must not tint what stands on it
#include "common.inc"
// A pail on a red cloth and, with PAIR, the same pail once more on slate: seen from so far away, and lit from so far away, that both are
// alike. The part is the first pail.
#ifndef (PAIR) #declare PAIR = 0; #end
#ifndef (SECOND) #declare SECOND = 0; #end // 1: the mask is the second's

camera { orthographic location <0.0, 0.62, -1.0> look_at <0.0, 0.085, 0> right x*0.75 up y*0.5 }
#if (MODE = 0)
light_source { <-4, 7, -5>*1000 rgb <1, 0.96, 0.9>*1.35*Lum parallel point_at <0, 0, 0> }
light_source { <5, 3, -6>*1000 rgb <0.5, 0.56, 0.66>*0.5*Lum parallel point_at <0, 0, 0> shadowless }
#end

#macro Skin(Which)
  #if (MODE = 0) texture { pigment { rgb <0.55, 0.33, 0.08> } normal { bozo 0.06 scale 0.012 } finish { ambient 0.06 diffuse 0.9 specular 0.25 roughness 0.01 } }
  #else texture { pigment { rgb (Which = SECOND ? 1 : 0) } finish { ambient 0 diffuse 0 emission 1 } } #end
#end
#macro Pail(Which)
  union {
    difference {
      cone { <0, 0, 0>, 0.062, <0, 0.15, 0>, 0.086 }
      cone { <0, 0.006, 0>, 0.058, <0, 0.151, 0>, 0.082 }
    }
    torus { 0.086, 0.005 translate y*0.15 }
    torus { 0.064, 0.004 translate y*0.004 }
    torus { 0.040, 0.007 rotate x*90 translate <0.098, 0.08, 0> }
    Skin(Which)
  }
#end
object { Pail(0) translate x*-0.17 }
#if (PAIR) object { Pail(1) translate x*0.16 } #end

box { <-2, -0.02, -2>, <-0.005, 0, 2> Rest( texture { pigment { granite color_map { [0 rgb <0.42, 0.03, 0.04>] [1 rgb <0.52, 0.05, 0.06>] } scale 0.05 } normal { granite 0.1 scale 0.02 } finish { ambient 0.06 diffuse 0.85 } } ) }
box { <-0.005, -0.02, -2>, <2, 0, 2> Rest( texture { pigment { granite color_map { [0 rgb <0.10, 0.14, 0.20>] [1 rgb <0.16, 0.20, 0.27>] } scale 0.09 } normal { granite 0.1 scale 0.03 } finish { ambient 0.06 diffuse 0.85 } } ) }
