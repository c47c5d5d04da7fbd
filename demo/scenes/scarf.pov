#include "common.inc"
// Conductor's scarf over the back of a platform bench. The part is the scarf with its fringe.
#include "scarf.inc"        // Scarf, uv mapped: u across, v along
#include "scarf_fringe.inc" // ScarfFringe

camera { location <0.42, 1.02, -1.75> look_at <-0.02, 0.64, -0.02> right x*1.5 angle 27 }
KeyLight(<-2.0, 3.2, -2.4>, 0.9, <1, 0.96, 0.90>*1.55)
Dome(<0.42, 0.48, 0.58>*0.9, <0.22, 0.21, 0.19>)

#declare Knit = normal { average normal_map {
   [1 gradient x, 0.45 triangle_wave scale 0.0115 ]
   [1 gradient y, 0.30 triangle_wave scale 0.0021 rotate z*9 ]
   [0.6 granite 0.30 scale 0.006 ] } }
#declare Yarn = pigment { average pigment_map {
   [1 gradient x triangle_wave color_map { [0 rgb ALB*0.80] [0.35 rgb ALB*1.0] [1 rgb ALB*1.04] } scale 0.0115 ]
   [1 granite color_map { [0 rgb ALB*0.93] [1 rgb ALB*1.06] } scale 0.02 ] } }
// CHECKED makes it a cloth of two colours for the truth of patterns: 0 its ground alone, 1 checks of 6 cm on it. MODE 3
// shows where on the cloth each point is: red across, green along.
#ifdef (CHECKED)
  #declare Yarn = pigment { rgb <0.36, 0.05, 0.075> };
  #if (CHECKED = 1)
    #declare Yarn = pigment { checker rgb <0.36, 0.05, 0.075> rgb <0.013, 0.145, 0.168> scale <0.06, 0.06, 1> translate <0, 0, 0.001> };
  #end
#end
#declare Wool = finish { ambient 0 diffuse 0.94 brilliance 0.9 specular 0.012 roughness 0.12 }
#if (MODE = 3)
object { Scarf texture { uv_mapping pigment { average pigment_map { [1 gradient x color_map { [0 rgb 0] [1 rgb <2, 0, 0>] }] [1 gradient y color_map { [0 rgb 0] [1 rgb <0, 2, 0>] }] } } finish { ambient 0 diffuse 0 emission 1 } } }
#else
object { Scarf Part( texture { uv_mapping pigment { Yarn } normal { Knit } finish { Wool } } ) }
#end
object { ScarfFringe Part( texture { pigment { rgb ALB*0.97 } finish { Wool } } ) }

#declare Slat = texture { WoodOf(<0.34, 0.20, 0.10>, <0.20, 0.10, 0.05>, 1) rotate y*90 normal { granite 0.07 scale <0.5,0.02,0.02> } finish { ambient 0 diffuse 0.85 specular 0.10 roughness 0.03 } }
#declare Iron = texture { pigment { rgb <0.035, 0.04, 0.042> } normal { granite 0.1 scale 0.01 } finish { ambient 0 diffuse 0.8 specular 0.2 roughness 0.02 } }
union {
  // back slats: the scarf hangs over the top one (y 0.86)
  superellipsoid { <0.12, 0.12> scale <1.1, 0.055, 0.018> translate <0, 0.805, 0> Rest( texture { Slat translate 3.1 } ) }
  superellipsoid { <0.12, 0.12> scale <1.1, 0.045, 0.016> translate <0, 0.665, 0.004> Rest( texture { Slat translate 7.7 } ) }
  superellipsoid { <0.12, 0.12> scale <1.1, 0.045, 0.016> translate <0, 0.545, 0.004> Rest( texture { Slat translate 1.3 } ) }
  // seat slats
  #local I = 0;
  #while (I < 5)
    superellipsoid { <0.14, 0.14> scale <1.1, 0.016, 0.040> translate <0, 0.42, -0.075 - I*0.092> Rest( texture { Slat translate I*5.3 } ) }
    #local I = I+1;
  #end
  #local I = -1;
  #while (I < 2)
    box { <-0.022, 0, -0.02>, <0.022, 0.84, 0.05> translate <I*0.78, 0, 0.02> Rest( texture { Iron } ) }
    box { <-0.022, 0.36, -0.46>, <0.022, 0.405, 0.02> translate <I*0.78, 0, 0> Rest( texture { Iron } ) }
    box { <-0.022, 0, -0.46>, <0.022, 0.40, -0.42> translate <I*0.78, 0, 0> Rest( texture { Iron } ) }
    #local I = I+2;
  #end
}
object { Bricks(-2.6, 2.6, -0.1, 1.9, 0.225, 0.078, <0.36, 0.19, 0.135>) translate z*0.75 }
plane { y, 0 Rest( texture { pigment { granite color_map { [0 rgb 0.22] [1 rgb 0.36*<1,0.98,0.95>] } scale 0.06 } normal { granite 0.2 scale 0.02 } finish { ambient 0 diffuse 0.8 } } ) }
