#include "common.inc"
// A brick gatepost of the depot before its brick wall, half of it in the shade. The part is the post.
camera { location <0.25, 1.15, -3.6> look_at <0.0, 0.78, 0> right x*1.5 angle 34 }
KeyLight(<-2.6, 3.2, -2.4>, 0.4, <1, 0.95, 0.86>*1.5)
Dome(<0.36, 0.42, 0.50>, <0.20, 0.18, 0.16>)
#macro Course(Y, Odd)
  #local S = 0;
  #while (S < 4)
    #local X = 0;
    #while (X < 2)
      #local K = Tint(0.25);
      superellipsoid { <0.09, 0.09> scale <0.112, 0.033, 0.05> rotate <0, 0, (rand(Rnd)-0.5)*0.8>
        translate <-0.115+0.23*X+(Odd*0.115-0.0575), Y, -0.18-rand(Rnd)*0.004> rotate y*90*S
        Part( texture { pigment { granite color_map { [0 rgb ALB*K*0.72] [0.5 rgb ALB*K] [1 rgb ALB*K*1.18] } scale 0.06 translate rand(Rnd)*9 } normal { granite 0.22 scale 0.03 } finish { ambient 0 diffuse 0.88 } } ) }
      #local X = X+1;
    #end
    #local S = S+1;
  #end
#end
union {
  #declare R = 0;
  #while (R < 19)
    Course(0.04+0.076*R, mod(R, 2))
    #declare R = R+1;
  #end
  box { <-0.215, 0, -0.215>, <0.215, 1.45, 0.215> Part( texture { pigment { granite color_map { [0 rgb ALB*0.8] [1 rgb ALB*1.3] } scale 0.03 } normal { granite 0.3 scale 0.01 } finish { ambient 0 diffuse 0.8 } } ) }
  superellipsoid { <0.1, 0.1> scale <0.29, 0.045, 0.29> translate y*1.49 Part( texture { pigment { granite color_map { [0 rgb ALB*0.9] [1 rgb ALB*1.4] } scale 0.1 } normal { granite 0.2 scale 0.03 } finish { ambient 0 diffuse 0.85 } } ) }
  rotate y*24
}
object { Bricks(-2.2, 2.2, 0, 2.4, 0.23, 0.076, <0.27, 0.125, 0.085>) translate z*1.1 }
plane { y, 0 Rest( texture { pigment { granite color_map { [0 rgb <0.13, 0.12, 0.11>] [1 rgb <0.30, 0.28, 0.25>] } scale 0.25 } normal { granite 0.4 scale 0.05 } finish { ambient 0 diffuse 0.8 } } ) }
