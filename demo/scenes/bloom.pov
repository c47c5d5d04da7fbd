#include "common.inc"
// A flower of many petals in a flower bed: each petal shades the next, and its ends are paler. The part is the flower.
camera { location <0.05, 0.62, -0.78> look_at <0.0, 0.03, 0.02> right x*1.5 angle 30 }
KeyLight(<-1.3, 1.8, -0.7>, 0.25, <1, 0.96, 0.88>*1.7)
Dome(<0.34, 0.40, 0.48>, <0.10, 0.12, 0.08>)
#macro Petal(K, T, Pale)
  superellipsoid { <1, 0.8> scale <0.016, 0.0035, 0.036>*K translate z*0.036*K
    Part( texture { pigment { gradient z color_map { [0 rgb ALB*T*0.55] [0.55 rgb ALB*T] [1 rgb ALB*T*Pale] } scale 0.073*K } normal { gradient x 0.15 sine_wave scale 0.006 } finish { ambient 0 diffuse 0.9 } } ) }
#end
union {
  #declare N = 0;
  #while (N < 210)
    #local R = sqrt(N/210);
    object { Petal(0.35+1.1*R, Tint(0.12), 1.5+0.5*rand(Rnd)) rotate x*(-72+66*R+(rand(Rnd)-0.5)*10) translate <0, 0.085-0.045*R*R, 0.012+0.070*R> rotate y*(N*137.508) }
    #declare N = N+1;
  #end
  sphere { 0, 0.03 scale <1, 0.7, 1> translate y*0.075 Part( texture { pigment { granite color_map { [0 rgb ALB*0.5] [1 rgb ALB*0.8] } scale 0.02 } normal { granite 0.6 scale 0.006 } finish { ambient 0 diffuse 0.85 } } ) }
}
// leaves below
#declare I = 0;
#while (I < 520)
  #local C = <0.06, 0.15, 0.035>*Tint(0.45);
  sphere { 0, 1 scale <0.017, 0.0025, 0.045>*(0.7+0.7*rand(Rnd)) translate z*0.03 rotate x*(-35+60*rand(Rnd)) rotate y*360*rand(Rnd) translate <(rand(Rnd)-0.5)*1.1, -0.03-0.05*rand(Rnd), (rand(Rnd)-0.5)*0.9>
    Rest( texture { pigment { gradient x color_map { [0 rgb C] [0.5 rgb C*1.2] [0.52 rgb C*1.9] [1 rgb C] } scale 0.034 translate -0.017*x } finish { ambient 0 diffuse 0.8 specular 0.15 roughness 0.04 } } ) }
  #declare I = I+1;
#end
plane { y, -0.09 Rest( texture { pigment { granite color_map { [0 rgb <0.02, 0.016, 0.012>] [1 rgb <0.12, 0.09, 0.06>] } scale 0.05 } normal { granite 0.8 scale 0.02 } finish { ambient 0 diffuse 0.8 } } ) }
