#include "common.inc"
// Canvas tote on a peg of the depot's matchboard wall. The part is the bag with its handles.
#include "tote.inc"        // Tote, uv mapped
#include "tote_straps.inc" // ToteStraps

#if (SAME) #declare ALB = <0.013, 0.145, 0.168>; #declare Wall = <0.125, 0.225, 0.240>; #else #declare Wall = <0.25, 0.31, 0.29>; #end
camera { location <0.32, 0.32, -1.72> look_at <-0.02, 0.315, 0> right x*1.5 angle 36 }
KeyLight(<-1.8, 2.2, -1.5>, 0.6, <1, 0.97, 0.92>*1.6)
Dome(<0.36, 0.40, 0.46>, <0.24, 0.23, 0.22>)

#declare Weave = normal { average normal_map {
   [1 gradient x, 0.28 sine_wave scale 0.0036 ] [1 gradient y, 0.28 sine_wave scale 0.0036 ] [0.7 granite 0.22 scale 0.01 ] } }
#declare Canvas = pigment { average pigment_map {
   [1 granite color_map { [0 rgb ALB*0.92] [0.5 rgb ALB] [1 rgb ALB*1.05] } scale <0.006, 0.2, 1> ]
   [1 granite color_map { [0 rgb ALB*0.92] [0.5 rgb ALB] [1 rgb ALB*1.05] } scale <0.2, 0.006, 1> ] } }
#declare Cotton = finish { ambient 0 diffuse 0.94 }
object { Tote Part( texture { uv_mapping pigment { Canvas } normal { Weave } finish { Cotton } } ) }
object { ToteStraps Part( texture { pigment { rgb ALB*0.98 } normal { granite 0.2 scale 0.008 } finish { Cotton } } ) }

// the emblem on the bag is left out of the scene: artwork comes later
union {
  cylinder { <0, 0.60, 0.01>, <0, 0.615, -0.085>, 0.011 }
  sphere { <0, 0.616, -0.088>, 0.016 }
  Rest( texture { WoodOf(<0.34, 0.19, 0.09>, <0.22, 0.11, 0.05>, 0.5) finish { ambient 0 diffuse 0.85 specular 0.15 roughness 0.02 } } )
}
superellipsoid { <0.06, 0.06> scale <0.62, 0.045, 0.012> translate <0, 0.605, 0.005>
  Rest( texture { WoodOf(<0.36, 0.21, 0.11>, <0.24, 0.13, 0.06>, 1) rotate y*90 finish { ambient 0 diffuse 0.85 specular 0.12 roughness 0.03 } } ) }
#declare I = -9;
#while (I < 10)
  #declare K = Tint(0.06);
  superellipsoid { <0.03, 0.03> scale <0.0493, 1.2, 0.02> translate <I*0.1, 0.3, 0.034>
    Rest( texture { pigment { average pigment_map { [2 rgb Wall*K] [1 granite color_map { [0 rgb Wall*0.82*K] [1 rgb Wall*1.18*K] } scale <0.03, 0.6, 0.03> ] } }
      normal { granite 0.06 scale <0.02, 0.4, 0.02> } finish { ambient 0 diffuse 0.85 specular 0.06 roughness 0.04 } } ) }
  #declare I = I+1;
#end
// a coil of rope and an oil can's shoulder to the right, out of the light
union {
  #declare I = 0;
  #while (I < 5) torus { 0.075 - mod(I,2)*0.004, 0.011 translate y*I*0.019 } #declare I = I+1; #end
  rotate x*82 translate <-0.40, 0.36, -0.02>
  Rest( texture { pigment { granite color_map { [0 rgb <0.42, 0.33, 0.20>] [1 rgb <0.58, 0.48, 0.31>] } scale 0.01 } normal { granite 0.5 scale 0.008 } finish { ambient 0 diffuse 0.85 } } )
}
cylinder { <-0.40, 0.455, 0.03>, <-0.40, 0.46, -0.06>, 0.007 Rest( texture { pigment { rgb 0.08 } finish { ambient 0 diffuse 0.7 specular 0.4 roughness 0.02 } } ) }
