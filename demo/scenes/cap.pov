#include "common.inc"
// Conductor's cap on a counter. The part is the crown; band, peak and badge are not.
#include "cap_crown.inc"
#include "cap_band.inc"
#include "cap_peak.inc"

camera { location <0.24, 0.24, -0.66> look_at <-0.005, 0.052, -0.01> right x*1.5 angle 30 }
KeyLight(<-1.2, 1.5, -1.1>, 0.5, <1, 0.95, 0.87>*1.7)
Dome(<0.32, 0.35, 0.42>, <0.22, 0.21, 0.20>)
WindowPane(0.8, 1.0, <-1.3, 0.8, -0.7>, <0, -60, 0>, <1, 0.98, 0.94>*2.6)

#declare Own = <0.045, 0.085, 0.22>;
#declare Felt = texture { pigment { granite color_map { [0 rgb Own*0.90] [1 rgb Own*1.08] } scale 0.008 }
  normal { average normal_map { [1 granite 0.35 scale 0.004] [1 bumps 0.25 scale 0.0025] } } finish { ambient 0 diffuse 0.94 specular 0.02 roughness 0.1 } }
object { CapCrown Part( texture { Felt } ) }
object { CapBand Rest( texture { pigment { rgb <0.02, 0.02, 0.024> } normal { gradient y, 0.3 sine_wave scale 0.0022 } finish { ambient 0 diffuse 0.9 specular 0.05 roughness 0.06 } } ) }
object { CapPeak interior { ior 1.5 } Rest( texture { pigment { rgb <0.012, 0.012, 0.014> } normal { granite 0.03 scale 0.02 } finish { ambient 0 diffuse 0.9 specular 0.3 roughness 0.006 reflection { 0.01, 0.7 fresnel on } } } ) }
// badge: a plain disc cut by a slanted line, brass
union {
  cylinder { <0, 0, 0>, <0, 0, -0.004>, 0.0135 }
  torus { 0.0135, 0.0016 rotate x*90 translate z*-0.003 }
  box { <-0.0008, -0.013, -0.0052>, <0.0008, 0.013, 0> rotate z*-18 }
  rotate x*-9 translate <0, 0.040, -0.1015>
  Rest( texture { pigment { rgb <0.55, 0.37, 0.12> } finish { ambient 0 diffuse 0.45 specular 0.7 roughness 0.03 metallic reflection { 0.35 metallic } } } )
}
// chin cord
torus { 0.1003, 0.0022 scale <1, 1, 1> rotate x*-2 translate y*0.022 Rest( texture { pigment { rgb <0.48, 0.33, 0.10> } normal { gradient x, 0.6 scale 0.004 } finish { ambient 0 diffuse 0.7 specular 0.3 roughness 0.04 } } ) }
object { Boards(-1.2, 1.2, -0.7, 0.8, 0.17, <0.40, 0.27, 0.16>, <0.27, 0.16, 0.085>) rotate y*-68 }
plane { z, 1.3 Rest( texture { pigment { bozo color_map { [0 rgb <0.27, 0.30, 0.28>] [1 rgb <0.32, 0.34, 0.32>] } scale 0.4 } finish { ambient 0 diffuse 0.85 } } ) }
// a roll of tickets and a brass bell
union {
  cylinder { <0.175, 0, 0.10>, <0.175, 0.030, 0.10>, 0.026 Rest( texture { pigment { radial frequency 1 color_map { [0 rgb <0.66, 0.60, 0.46>] [1 rgb <0.70, 0.64, 0.52>] } } finish { ambient 0 diffuse 0.85 } } ) }
  cylinder { <0.175, 0.0301, 0.10>, <0.175, 0.0305, 0.10>, 0.010 Rest( texture { pigment { rgb <0.2, 0.15, 0.1> } finish { ambient 0 diffuse 0.8 } } ) }
  sphere { 0, 0.034 clipped_by { plane { -y, 0 } } translate <-0.205, 0.006, 0.11> Rest( texture { pigment { rgb <0.50, 0.34, 0.11> } finish { ambient 0 diffuse 0.35 specular 0.8 roughness 0.01 metallic reflection { 0.4 metallic } } } ) }
  sphere { <-0.205, 0.043, 0.11>, 0.005 Rest( texture { pigment { rgb <0.50, 0.34, 0.11> } finish { ambient 0 diffuse 0.35 specular 0.8 roughness 0.01 metallic reflection { 0.4 metallic } } } ) }
}
