#include "common.inc"
// The bobble of the conductor's winter hat, come off, on a platform bench. The part is the bobble with its hair.
#include "bobble.inc" // Bobble: a ball of wool threads

#if (SAME) #declare ALB = <0.36, 0.05, 0.075>; #end
camera { location <0.05, 0.16, -0.52> look_at <0, 0.052, 0> right x*1.5 angle 22 }
KeyLight(<-1.0, 1.4, -1.1>, 0.4, <1, 0.96, 0.90>*1.7)
Dome(<0.40, 0.44, 0.52>*1.1, <0.24, 0.23, 0.22>)

#declare Wool = finish { ambient 0 diffuse 0.9 brilliance 0.8 specular 0.02 roughness 0.1 }
object { Bobble Part( texture { pigment { rgb ALB } finish { Wool } } ) no_radiosity }
sphere { <0, 0.055, 0>, 0.034 Part( texture { pigment { rgb ALB*0.8 } finish { Wool } } ) }

#declare Slat = texture { WoodOf(<0.34, 0.20, 0.10>, <0.20, 0.10, 0.05>, 1) rotate y*90 normal { granite 0.07 scale <0.5,0.02,0.02> } finish { ambient 0 diffuse 0.85 specular 0.10 roughness 0.03 } }
#declare I = -2;
#while (I < 5)
  superellipsoid { <0.14, 0.14> scale <1.1, 0.016, 0.048> translate <0, -0.016, I*0.103> Rest( texture { Slat translate I*5.3 } ) }
  #declare I = I+1;
#end
superellipsoid { <0.12, 0.12> scale <1.1, 0.055, 0.018> translate <0, 0.13, 0.46> Rest( texture { Slat translate 3.1 } ) }
superellipsoid { <0.12, 0.12> scale <1.1, 0.045, 0.016> translate <0, 0.26, 0.47> Rest( texture { Slat translate 7.7 } ) }
object { Bricks(-2.6, 2.6, -0.6, 1.4, 0.225, 0.078, <0.36, 0.19, 0.135>) translate z*1.2 }
