#include "common.inc"
// The saloon's curtain between a warm lamp and a cool window. The part is the cloth.
#include "curtain_cloth.inc" // CurtainCloth, uv mapped
camera { location <0.06, 0.0, -1.9> look_at <0, 0.0, 0> right x*1.5 angle 42 }
KeyLight(<-1.4, 0.7, -1.0>, 0.35, <1, 0.80, 0.58>*1.15)
KeyLight(<1.9, 1.0, -1.3>, 0.8, <0.74, 0.88, 1.06>*0.95)
Dome(<0.26, 0.30, 0.38>, <0.20, 0.17, 0.14>)
#declare Twill = normal { average normal_map { [1 gradient x, 0.22 sine_wave scale 0.004 rotate z*35 ] [0.8 granite 0.22 scale 0.012 ] } }
#declare Thread = pigment { average pigment_map { [1 granite color_map { [0 rgb ALB*0.92] [1 rgb ALB*1.06] } scale <0.006, 0.2, 1> ] [1 granite color_map { [0 rgb ALB*0.94] [1 rgb ALB*1.05] } scale <0.2, 0.006, 1> ] } }
object { CurtainCloth Part( texture { uv_mapping pigment { Thread } normal { Twill } finish { ambient 0 diffuse 0.94 specular 0.02 roughness 0.1 } } ) }
union {
  cylinder { <-0.9, 0.43, 0.0>, <0.9, 0.43, 0.0>, 0.013 }
  sphere { <0.62, 0.43, 0>, 0.024 } sphere { <-0.62, 0.43, 0>, 0.024 }
  Rest( texture { pigment { rgb <0.50, 0.34, 0.11> } finish { ambient 0 diffuse 0.4 specular 0.7 roughness 0.02 metallic reflection { 0.3 metallic } } } )
}
superellipsoid { <0.08, 0.08> scale <1.2, 0.05, 0.03> translate <0, -0.52, 0.06> Rest( texture { WoodOf(<0.34, 0.19, 0.09>, <0.22, 0.11, 0.05>, 1) rotate y*90 finish { ambient 0 diffuse 0.85 specular 0.1 roughness 0.03 } } ) }
plane { z, 0.16 Rest( texture { pigment { bozo color_map { [0 rgb <0.44, 0.44, 0.40>] [1 rgb <0.50, 0.49, 0.45>] } scale 0.3 } normal { granite 0.06 scale 0.05 } finish { ambient 0 diffuse 0.85 } } ) }
