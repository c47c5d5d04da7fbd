#include "common.inc"
// The tram at the depot. The part is the lower body panel; cream waist, roof, frames and lamp are not.
#include "tram_body.inc" // TramLower, TramWaist, TramUpper, TramRoof: rounded-plan shells

camera { location <-7.6, 1.85, -8.2> look_at <-0.55, 1.38, 0> right x*1.5 angle 42 }
KeyLight(<-7, 11, -12>, 3.2, <1, 0.95, 0.86>*1.5)
Dome(<0.40, 0.47, 0.60>, <0.24, 0.23, 0.21>)
WindowPane(6, 4, <-9, 4, -6>, <0, -55, 0>, <0.95, 0.98, 1>*1.3)

#declare Paint = finish { ambient 0 diffuse 0.92 specular 0.22 roughness 0.006 reflection { 0, 0.55 fresnel on } }
#declare Orange = normal { bozo 0.02 scale 0.25 }
#declare Cream = texture { pigment { rgb <0.80, 0.72, 0.54> } normal { Orange } finish { Paint } }
#declare Metal = texture { pigment { rgb <0.05, 0.055, 0.06> } finish { ambient 0 diffuse 0.8 specular 0.2 roughness 0.03 } }
object { TramLower interior { ior 1.45 } Part( texture { pigment { rgb <0.235, 0.045, 0.028> } normal { Orange } finish { Paint } } ) }
object { TramWaist interior { ior 1.45 } Rest( texture { Cream } ) }
object { TramUpper interior { ior 1.45 } Rest( texture { Cream } ) }
object { TramRoof Rest( texture { pigment { rgb <0.23, 0.25, 0.25> } finish { ambient 0 diffuse 0.9 specular 0.05 roughness 0.1 } } ) }
// windows: a dark glass band in front of the upper shell, with posts
#macro Pane(X0, X1) superellipsoid { <0.10, 0.10> scale <(X1-X0)/2, 0.36, 0.02> translate <(X0+X1)/2, 2.02, -1.075> interior { ior 1.5 }
  Rest( texture { pigment { rgb <0.02, 0.025, 0.028> } finish { ambient 0 diffuse 0.6 specular 0.4 roughness 0.002 reflection { 0.04, 0.9 fresnel on } } } ) } #end
#declare I = 0;
#while (I < 6) Pane(-2.05 + I*0.86, -1.29 + I*0.86) #declare I = I+1; #end
superellipsoid { <0.10, 0.10> scale <0.02, 0.36, 0.52> translate <-3.075, 2.02, 0> interior { ior 1.5 }
  Rest( texture { pigment { rgb <0.02, 0.025, 0.028> } finish { ambient 0 diffuse 0.6 specular 0.4 roughness 0.002 reflection { 0.04, 0.9 fresnel on } } } ) }
// lining, head lamp, fender, underframe, wheels
union {
  box { <-2.3, 1.425, -1.066>, <3.3, 1.445, -1.05> } Rest( texture { pigment { rgb <0.50, 0.34, 0.08> } finish { ambient 0 diffuse 0.7 specular 0.4 roughness 0.03 } } ) }
cylinder { <-3.02, 1.12, 0>, <-3.16, 1.12, 0>, 0.15 Rest( texture { pigment { rgb <0.55, 0.38, 0.12> } finish { ambient 0 diffuse 0.5 specular 0.6 roughness 0.02 metallic reflection 0.25 } } ) }
cylinder { <-3.161, 1.12, 0>, <-3.165, 1.12, 0>, 0.125 interior { ior 1.5 } Rest( texture { pigment { rgb <0.75, 0.74, 0.66> } finish { ambient 0 diffuse 0.8 specular 0.5 roughness 0.005 reflection { 0.05, 0.8 fresnel on } } } ) }
union {
  box { <-2.9, 0.42, -0.95>, <4, 0.60, 0.95> } box { <-3.2, 0.38, -0.6>, <-2.9, 0.52, 0.6> }
  #declare I = 0; #while (I < 4) cylinder { <-1.5 + mod(I,2)*1.15 + div(I,2)*2.6, 0.36, -0.78>, <-1.5 + mod(I,2)*1.15 + div(I,2)*2.6, 0.36, -0.66>, 0.33 } #declare I = I+1; #end
  Rest( texture { Metal } ) }
// rails and setts
union { box { <-20, 0, -0.76>, <20, 0.035, -0.68> } box { <-20, 0, 0.68>, <20, 0.035, 0.76> } Rest( texture { pigment { rgb <0.26, 0.24, 0.22> } finish { ambient 0 diffuse 0.5 specular 0.6 roughness 0.03 reflection 0.12 } } ) }
union {
  #declare Z = -5.2;
  #while (Z < 2.4)
    #declare X = -6.5;
    #while (X < 6)
      #declare K = Tint(0.25);
      superellipsoid { <0.25, 0.25> scale <0.118, 0.05, 0.078> rotate <(rand(Rnd)-0.5)*5, (rand(Rnd)-0.5)*6, (rand(Rnd)-0.5)*5>
        translate <X + mod(floor((Z+10)/0.165), 2)*0.12, -0.045 + rand(Rnd)*0.008, Z>
        Rest( texture { pigment { granite color_map { [0 rgb <0.19, 0.19, 0.20>*K] [1 rgb <0.32, 0.31, 0.30>*K] } scale 0.15 } normal { granite 0.2 scale 0.06 } finish { ambient 0 diffuse 0.85 specular 0.08 roughness 0.05 } } ) }
      #declare X = X + 0.245;
    #end
    #declare Z = Z + 0.165;
  #end
}
plane { y, -0.06 Rest( texture { pigment { rgb 0.14 } finish { ambient 0 diffuse 0.8 } } ) }
object { Bricks(-9, 17, -0.1, 6.2, 0.30, 0.105, <0.34, 0.175, 0.12>) translate z*2.6 }
// depot door: dark opening with an iron lintel
box { <2.2, 0, 2.45>, <5.2, 4.2, 2.62> Rest( texture { pigment { rgb <0.05, 0.09, 0.085> } normal { gradient x, 0.5 scale 0.25 } finish { ambient 0 diffuse 0.85 } } ) }
