#include "common.inc"
// The conductor's ticket pouch: cloth with a white belt across it and a print. The part is the cloth alone.
#include "pouch_body.inc"  // PouchBody, uv mapped
#include "pouch_print.inc" // PouchPrint
#include "pouch_belt.inc"  // PouchBelt
camera { location <0.22, 0.26, -0.95> look_at <0.0, 0.115, 0> right x*1.5 angle 27 }
KeyLight(<-1.4, 1.7, -1.3>, 0.5, <1, 0.96, 0.90>*1.65)
Dome(<0.34, 0.38, 0.45>, <0.23, 0.22, 0.20>)
WindowPane(0.8, 1.0, <-1.3, 0.8, -0.8>, <0, -60, 0>, <1, 0.98, 0.94>*2.6)
#declare Felted = normal { average normal_map { [1 granite 0.25 scale 0.006] [1 gradient x, 0.2 sine_wave scale 0.005] [1 gradient y, 0.2 sine_wave scale 0.005] } }
object { PouchBody Part( texture { pigment { granite color_map { [0 rgb ALB*0.92] [1 rgb ALB*1.07] } scale 0.012 } normal { Felted } finish { ambient 0 diffuse 0.94 specular 0.015 roughness 0.1 } } ) }
object { PouchPrint Beside( texture { pigment { rgb <0.60, 0.36, 0.05> } normal { Felted } finish { ambient 0 diffuse 0.9 } } ) }
object { PouchBelt Beside( texture { pigment { granite color_map { [0 rgb <0.74, 0.72, 0.67>] [1 rgb <0.82, 0.80, 0.75>] } scale 0.01 } normal { bumps 0.15 scale 0.004 } finish { ambient 0 diffuse 0.9 specular 0.12 roughness 0.03 } } ) }
object { Boards(-1.2, 1.2, -0.7, 0.8, 0.16, <0.38, 0.26, 0.15>, <0.26, 0.16, 0.085>) rotate y*-70 }
plane { z, 0.9 Rest( texture { pigment { bozo color_map { [0 rgb <0.30, 0.33, 0.35>] [1 rgb <0.35, 0.38, 0.40>] } scale 0.4 } finish { ambient 0 diffuse 0.85 } } ) }
