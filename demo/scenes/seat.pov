#include "common.inc"
// The saloon's seat: tufted leather, nearly black and glossy. The part is the leather with its buttons.
#include "seat_cushion.inc" // SeatCushion

camera { location <0.34, 0.16, -1.30> look_at <0.0, -0.01, 0> right x*1.5 angle 46 }
KeyLight(<-1.6, 1.9, -1.5>, 0.6, <1, 0.965, 0.91>*1.75)
Dome(<0.32, 0.35, 0.41>, <0.22, 0.21, 0.20>)
WindowPane(0.9, 1.2, <-1.6, 1.0, -1.0>, <0, -58, 0>, <1, 0.98, 0.94>*2.6)
WindowPane(0.5, 1.0, <1.7, 0.7, -0.6>, <0, 70, 0>, <0.85, 0.92, 1>*0.9)

#declare Grain = normal { average normal_map { [1.2 wrinkles 0.35 scale 0.012] [1 bumps 0.30 scale 0.0035] [0.8 granite 0.16 scale 0.02] } }
#declare Hide = pigment { average pigment_map {
  [1 granite color_map { [0 rgb ALB*0.90] [0.5 rgb ALB] [1 rgb ALB*1.08] } scale 0.05 ]
  [1 bozo color_map { [0 rgb ALB*0.94] [1 rgb ALB*1.06] } scale 0.12 ] } }
#declare Leather = finish { ambient 0 diffuse 0.94 specular 0.22 roughness 0.022 reflection { 0.0, 0.55 fresnel on } }
object { SeatCushion interior { ior 1.5 } Part( texture { pigment { Hide } normal { Grain } finish { Leather } } ) }
#declare P = 0.155;
#declare I = -6;
#while (I < 7)
  #declare J = -6;
  #while (J < 7)
    #declare X = (I+J)*P/2; #declare Y = (I-J)*P/2;
    #if (abs(X) < 0.40 & abs(Y) < 0.25)
      sphere { 0, 0.011 scale <1, 1, 0.55> translate <X, Y, 0.002> interior { ior 1.5 } Part( texture { pigment { rgb ALB } normal { bumps 0.2 scale 0.004 } finish { Leather } } ) }
    #end
    #declare J = J+1;
  #end
  #declare I = I+1;
#end
#declare Beech = texture { WoodOf(<0.40, 0.23, 0.11>, <0.26, 0.13, 0.06>, 1) rotate y*90 normal { granite 0.05 scale <0.4,0.02,0.02> } finish { ambient 0 diffuse 0.85 specular 0.15 roughness 0.02 } }
union {
  superellipsoid { <0.10, 0.10> scale <0.52, 0.032, 0.035> translate <0, 0.300, 0> }
  superellipsoid { <0.10, 0.10> scale <0.52, 0.032, 0.035> translate <0, -0.300, 0> }
  superellipsoid { <0.10, 0.10> scale <0.032, 0.30, 0.035> translate <0.455, 0, 0> }
  superellipsoid { <0.10, 0.10> scale <0.032, 0.30, 0.035> translate <-0.455, 0, 0> }
  Rest( texture { Beech } )
}
box { <-0.5, -0.31, 0.03>, <0.5, 0.31, 0.05> Rest( texture { pigment { rgb 0.05 } finish { ambient 0 diffuse 0.8 } } ) }
plane { z, 0.12 Rest( texture { pigment { bozo color_map { [0 rgb <0.36, 0.42, 0.36>] [1 rgb <0.42, 0.47, 0.41>] } scale 0.3 } normal { granite 0.05 scale 0.05 } finish { ambient 0 diffuse 0.85 } } ) }
