#include "common.inc"
// Depot mug, three-quarter: enamel on a plank table. The part is the body with its handle.
#include "mug_body.inc"   // MugBody: outside wall, from the foot to the rim
#include "mug_inside.inc" // MugInside
#include "mug_handle.inc" // MugHandle

#if (SAME) #declare ALB = <0.42, 0.034, 0.018>; #declare Plank1 = <0.40, 0.125, 0.085>; #declare Plank2 = <0.27, 0.068, 0.042>;
#else #declare Plank1 = <0.30, 0.165, 0.085>; #declare Plank2 = <0.155, 0.078, 0.04>; #end
camera { location <0.16, 0.225, -0.50> look_at <0.005, 0.050, 0> right x*1.5 angle 26 }
KeyLight(<-1.3, 1.5, -1.0>, 0.5, <1, 0.955, 0.88>*1.75)
Dome(<0.30, 0.34, 0.40>*1.1, <0.22, 0.21, 0.20>)
WindowPane(0.75, 1.0, <-1.25, 0.75, -0.75>, <0, -60, 0>, <1, 0.98, 0.94>*3.2)
WindowPane(0.4, 0.9, <1.3, 0.55, -0.3>, <0, 75, 0>, <0.85, 0.92, 1>*0.8)

#declare Enamel = finish { ambient 0 diffuse 0.94 specular 0.35 roughness 0.0035 reflection { 0.0, 0.75 fresnel on } }
#declare Ripple = normal { bozo 0.035 scale 0.018 }

union {
  object { MugBody }
  object { MugHandle }
  interior { ior 1.5 }
  Part( texture { pigment { rgb ALB } normal { Ripple } finish { Enamel } } )
  rotate y*-32
}
#declare Dark = texture { pigment { rgb <0.014, 0.016, 0.022> } normal { Ripple } finish { Enamel } }
union {
  torus { 0.0452, 0.0024 scale <1, 0.9, 1> translate y*0.0905 }
  torus { 0.0395, 0.0019 scale <1, 0.8, 1> translate y*0.0015 }
  interior { ior 1.5 } Beside( texture { Dark } )
}
object { MugInside interior { ior 1.5 } Beside( texture { pigment { rgb <0.80, 0.74, 0.62> } finish { Enamel } } ) }

object { Boards(-0.9, 1.0, -0.6, 0.75, 0.135, Plank1, Plank2) rotate y*8 }
plane { z, 1.15 Rest( texture { pigment { bozo color_map { [0 rgb <0.40, 0.41, 0.41>] [1 rgb <0.46, 0.46, 0.45>] } scale 0.3 } normal { granite 0.05 scale 0.05 } finish { ambient 0 diffuse 0.85 } } ) }
// two route books and an amber lamp globe
union {
  superellipsoid { <0.05, 0.05> scale <0.085, 0.010, 0.060> translate <-0.150, 0.010, 0.125> rotate y*-7
    Rest( texture { pigment { rgb <0.10, 0.17, 0.15> } normal { granite 0.12 scale 0.01 } finish { ambient 0 diffuse 0.85 specular 0.04 roughness 0.08 } } ) }
  superellipsoid { <0.05, 0.05> scale <0.075, 0.008, 0.056> translate <-0.150, 0.0285, 0.125> rotate y*4
    Rest( texture { pigment { rgb <0.62, 0.52, 0.35> } normal { granite 0.12 scale 0.01 } finish { ambient 0 diffuse 0.85 } } ) }
}
sphere { <0.155, 0.024, 0.10>, 0.024 interior { ior 1.5 }
  Rest( texture { pigment { rgb <0.63, 0.34, 0.045> } finish { ambient 0 diffuse 0.8 specular 0.3 roughness 0.01 reflection { 0, 0.6 fresnel on } } } ) }
