// The driver's winter muff: long fibres over a roll. The part is all of its fur.
#declare FIBRES = 1;
#include "common.inc"
#include "muff_core.inc"  // MuffCore
#include "muff_fur.inc"   // MuffFur, uv mapped: v along the fibre

camera { location <0.10, 0.24, -0.72> look_at <0.0, 0.085, 0> right x*1.5 angle 33 }
#if (MODE = 0) light_source { <-1.1, 1.5, -1.0> rgb <1, 0.96, 0.89>*1.45*Lum area_light 0.4*x, 0.4*(y*0.8+z*0.6), 2, 2 circular orient } #end
// No radiosity on fibres: lights of the sky without an area stand for it.
#if (MODE = 0)
light_source { <0.2, 2.4, 0.6> rgb <0.80, 0.92, 1.10>*0.30*Lum }
light_source { <1.6, 0.9, -0.9> rgb <0.90, 0.95, 1.05>*0.26*Lum }
light_source { <0.1, 0.3, -2.0> rgb <1, 0.98, 0.95>*0.22*Lum }
#end

#declare Hair = finish { ambient 0 diffuse 0.94 specular 0.05 roughness 0.06 }
object { MuffCore Part( texture { pigment { rgb ALB*0.75 } finish { ambient 0 diffuse 0.9 } } ) }
object { MuffFur double_illuminate Part( texture { uv_mapping pigment { gradient y color_map { [0 rgb ALB*0.78] [0.5 rgb ALB] [1 rgb ALB*1.12] } } finish { Hair } } ) }
object { Boards(-0.9, 1.0, -0.6, 0.8, 0.15, <0.36, 0.25, 0.15>, <0.24, 0.15, 0.085>) rotate y*-62 }
plane { z, 0.75 Rest( texture { pigment { bozo color_map { [0 rgb <0.30, 0.34, 0.33>] [1 rgb <0.37, 0.40, 0.38>] } scale 0.3 } normal { granite 0.06 scale 0.04 } finish { ambient 0 diffuse 0.85 } } ) }
