#include "common.inc"
// A tea tin of the tram shop on a shelf board, seen from a little above: what is upright and round, for the truth of patterns. The part is
// its wall. CHECKED 1 paints checks on it, of which go twelve around; MODE 3 shows where on the wall each point is: red around, in turns
// from the back, green up, of its height.
#ifndef (CHECKED) #declare CHECKED = 0; #end
camera { location <0.25, 0.50, -1.15> look_at <0, 0.062, 0> right x*1.5 angle 15 }
KeyLight(<-1.6, 1.6, -1.2>, 0.5, <1, 0.96, 0.90>*1.6)
Dome(<0.34, 0.38, 0.44>, <0.22, 0.21, 0.20>)

#declare R = 0.055;
#declare H = 0.12;
#declare Around = function(x, z) { 0.5 + atan2(x, -z)/(2*pi) }
#declare Square = 2*pi*R/24; // a repeat has two squares across
#if (CHECKED)
  #declare Paint = pigment { function { mod(floor(24*Around(x, z)) + floor(y/Square), 2) } color_map { [0.5 rgb <0.60, 0.50, 0.34>] [0.5 rgb <0.013, 0.145, 0.168>] } };
#else
  #declare Paint = pigment { rgb <0.60, 0.50, 0.34> };
#end
#declare Lacquer = finish { ambient 0 diffuse 0.92 specular 0.10 roughness 0.02 }
#if (MODE = 3)
  #declare Wall = texture { pigment { average pigment_map {
    [1 function { Around(x, z) } color_map { [0 rgb 0] [1 rgb <2, 0, 0>] }]
    [1 function { y/H*0.999 } color_map { [0 rgb 0] [1 rgb <0, 2, 0>] }] } } finish { ambient 0 diffuse 0 emission 1 } };
  cylinder { 0, y*H, R open texture { Wall } }
#else
  cylinder { 0, y*H, R open Part( texture { pigment { Paint } finish { Lacquer } } ) }
#end
#declare Lid = texture { pigment { rgb <0.42, 0.43, 0.44> } finish { ambient 0 diffuse 0.7 specular 0.3 roughness 0.02 } }
cylinder { y*H, y*(H+0.006), R*1.01 Rest( texture { Lid } ) }
sphere { 0, 0.010 scale <1, 0.7, 1> translate y*(H+0.011) Rest( texture { Lid } ) }
object { Boards(-0.6, 0.7, -0.5, 0.6, 0.12, <0.30, 0.165, 0.085>, <0.155, 0.078, 0.04>) }
plane { z, 0.9 Rest( texture { pigment { rgb <0.38, 0.40, 0.37> } finish { ambient 0 diffuse 0.85 } } ) }
