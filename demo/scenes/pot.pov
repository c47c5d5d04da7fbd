#include "common.inc"
// A clay pot at the stop, before a plastered wall and on tiles of its own hue. The part is the pot.
#include "pot_wall.inc"  // PotWall
camera { location <0.12, 0.34, -1.05> look_at <0.0, 0.115, 0> right x*1.5 angle 28 }
KeyLight(<-1.5, 1.7, -1.2>, 0.5, <1, 0.955, 0.88>*1.6)
Dome(<0.36, 0.40, 0.47>, <0.24, 0.22, 0.20>)
#declare ClayA = <0.44, 0.185, 0.095>;
#declare Fired = pigment { average pigment_map {
  [1 granite color_map { [0 rgb ALB*0.82] [0.5 rgb ALB] [1 rgb ALB*1.12] } scale <0.05, 0.02, 0.05> ]
  [1 bozo turbulence 0.5 color_map { [0 rgb ALB*0.88] [1 rgb ALB*1.10] } scale 0.07 ] } }
object { PotWall Part( texture { pigment { Fired } normal { average normal_map { [1 granite 0.18 scale 0.015] [1 gradient y 0.12 sine_wave scale 0.006] } } finish { ambient 0 diffuse 0.94 } } ) }
cylinder { <0, 0.19, 0>, <0, 0.20, 0>, 0.098 Rest( texture { pigment { granite color_map { [0 rgb <0.03, 0.02, 0.015>] [1 rgb <0.09, 0.06, 0.04>] } scale 0.02 } normal { granite 0.9 scale 0.01 } finish { ambient 0 diffuse 0.8 } } ) }
// tiles
#declare I = -8;
#while (I < 8)
  #declare J = -5;
  #while (J < 5)
    #declare K = Tint(0.18);
    superellipsoid { <0.05, 0.05> scale <0.0735, 0.01, 0.0735> rotate <(rand(Rnd)-0.5)*0.8, 0, (rand(Rnd)-0.5)*0.8> translate <I*0.15, -0.01, J*0.15>
      Rest( texture { pigment { granite color_map { [0 rgb ClayA*K*0.8] [0.5 rgb ClayA*K] [1 rgb ClayA*K*1.12] } scale 0.06 translate rand(Rnd)*9 } normal { granite 0.12 scale 0.02 } finish { ambient 0 diffuse 0.85 specular 0.05 roughness 0.05 } } ) }
    #declare J = J+1;
  #end
  #declare I = I+1;
#end
plane { y, -0.012 Rest( texture { pigment { rgb <0.30, 0.24, 0.19> } normal { granite 0.3 scale 0.01 } finish { ambient 0 diffuse 0.8 } } ) }
plane { z, 0.55 Rest( texture { pigment { average pigment_map { [1 granite color_map { [0 rgb ClayA*0.75] [1 rgb ClayA*1.25] } scale 0.2 ] [1 bozo turbulence 0.4 color_map { [0 rgb ClayA*<0.9,0.95,1.0>] [1 rgb ClayA*<1.1,1.12,1.15>] } scale 0.25 ] } } normal { granite 0.25 scale 0.06 } finish { ambient 0 diffuse 0.85 } } ) }
