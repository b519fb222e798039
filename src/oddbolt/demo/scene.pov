// The invented tide logger, seen straight from above. 1 unit = 1 mm; the picture is 200 x 150 mm.
// Stage: 1 front closed, 2 lid off, 3 shield off, 4 main board out, 5 radio board out, 6 back with feet,
//        7 back with hatch off, 8 inside of the lid, 9 sensor head open, 10 laid out,
//        11 back of the main board, 12 back of the radio board.
#version 3.7;
global_settings { assumed_gamma 1.0 }
camera { orthographic location <0, 0, 400> look_at <0, 0, 0> right <-200, 0, 0> up <0, 150, 0> }
light_source { <-220, 260, 420> rgb <1.0, 0.97, 0.92> * 1.3 area_light <70, 0, 0>, <0, 70, 0>, 5, 5 adaptive 1 jitter }
light_source { <260, -120, 500> rgb <0.5, 0.55, 0.62> * 0.55 shadowless }
#declare Mat = texture { pigment { srgb <0.42, 0.50, 0.47> } finish { diffuse 0.75 ambient 0.1 } normal { bumps 0.12 scale 0.8 } }
plane { z, -30 texture { Mat } }
#declare Grid = union {
  #local I = -10; #while (I <= 10) box { <I*10-0.12, -80, -30>, <I*10+0.12, 80, -29.9> } box { <-110, I*10-0.12, -30>, <110, I*10+0.12, -29.9> } #local I = I + 1; #end
  pigment { srgb <0.55, 0.62, 0.58> } finish { diffuse 0.8 } }
object { Grid }
#declare Slate = texture { pigment { srgb <0.16, 0.19, 0.23> } finish { diffuse 0.7 specular 0.18 roughness 0.06 ambient 0.08 } normal { bumps 0.05 scale 0.4 } }
#declare Slate2 = texture { pigment { srgb <0.26, 0.30, 0.35> } finish { diffuse 0.7 specular 0.2 roughness 0.05 ambient 0.08 } }
#declare Orange = texture { pigment { srgb <0.78, 0.36, 0.12> } finish { diffuse 0.7 specular 0.25 roughness 0.04 ambient 0.1 } }
#declare Green = texture { pigment { srgb <0.06, 0.30, 0.19> } finish { diffuse 0.7 specular 0.25 roughness 0.05 ambient 0.1 } }
#declare Blue = texture { pigment { srgb <0.08, 0.18, 0.34> } finish { diffuse 0.7 specular 0.25 roughness 0.05 ambient 0.1 } }
#declare Steel = texture { pigment { srgb <0.70, 0.71, 0.70> } finish { diffuse 0.45 specular 0.7 roughness 0.02 ambient 0.12 reflection 0.06 } }
#declare Brass = texture { pigment { srgb <0.80, 0.62, 0.28> } finish { diffuse 0.5 specular 0.6 roughness 0.02 ambient 0.12 } }
#declare Chip = texture { pigment { srgb <0.045, 0.05, 0.055> } finish { diffuse 0.6 specular 0.2 roughness 0.04 } }
#declare Tan = texture { pigment { srgb <0.82, 0.70, 0.45> } finish { diffuse 0.7 specular 0.2 } }
#declare White = texture { pigment { srgb <0.86, 0.86, 0.82> } finish { diffuse 0.7 } }
#declare Rubber = texture { pigment { srgb <0.07, 0.07, 0.08> } finish { diffuse 0.6 } }
#declare Silver = texture { pigment { srgb <0.62, 0.65, 0.68> } finish { diffuse 0.6 specular 0.4 roughness 0.05 } }
#declare Amber = texture { pigment { srgb <0.72, 0.45, 0.13> } finish { diffuse 0.65 specular 0.3 roughness 0.05 } }
#macro RBox(X, Y, W, H, R, Z0, Z1) union {
  box { <X-W/2+R, Y-H/2, Z0>, <X+W/2-R, Y+H/2, Z1> } box { <X-W/2, Y-H/2+R, Z0>, <X+W/2, Y+H/2-R, Z1> }
  cylinder { <X-W/2+R, Y-H/2+R, Z0>, <X-W/2+R, Y-H/2+R, Z1>, R } cylinder { <X+W/2-R, Y-H/2+R, Z0>, <X+W/2-R, Y-H/2+R, Z1>, R }
  cylinder { <X-W/2+R, Y+H/2-R, Z0>, <X-W/2+R, Y+H/2-R, Z1>, R } cylinder { <X+W/2-R, Y+H/2-R, Z0>, <X+W/2-R, Y+H/2-R, Z1>, R } } #end
#macro Hex(X, Y, Z, R) difference { cylinder { <X, Y, Z-3>, <X, Y, Z+1.6>, R } prism { linear_sweep 0, 4, 7, <1,0>*R*0.55, <0.5,0.866>*R*0.55, <-0.5,0.866>*R*0.55, <-1,0>*R*0.55, <-0.5,-0.866>*R*0.55, <0.5,-0.866>*R*0.55, <1,0>*R*0.55 rotate 90*x translate <X, Y, Z+4> } texture { Steel } } #end
#macro Cross(X, Y, Z, R) difference { cylinder { <X, Y, Z-2>, <X, Y, Z+0.9>, R } union { box { <X-R*0.62, Y-R*0.16, Z+0.2>, <X+R*0.62, Y+R*0.16, Z+2> } box { <X-R*0.16, Y-R*0.62, Z+0.2>, <X+R*0.16, Y+R*0.62, Z+2> } rotate 0 texture { Chip } } texture { Steel } } #end
#macro Star(X, Y, Z, R) difference { cylinder { <X, Y, Z-2>, <X, Y, Z+0.9>, R } union { #local A = 0; #while (A < 6) cylinder { <X+R*0.32*cos(A*pi/3), Y+R*0.32*sin(A*pi/3), Z>, <X+R*0.32*cos(A*pi/3), Y+R*0.32*sin(A*pi/3), Z+2>, R*0.24 } #local A = A + 1; #end cylinder { <X, Y, Z>, <X, Y, Z+2>, R*0.38 } texture { Chip } } texture { Steel } } #end
#macro Plug(X, Y, W, H, Z) union { box { <X-W/2, Y-H/2, Z>, <X+W/2, Y+H/2, Z+2.2> texture { Tan } } box { <X-W/2+1, Y-H/2+0.7, Z+2>, <X+W/2-1, Y+H/2-0.7, Z+2.6> texture { Chip } } } #end
#macro Bits(X, Y, N, S) union { #local Q = 0; #local RR = seed(S); #while (Q < N) box { <0, 0, 0>, <1.6, 0.9, 0.8> rotate z*90*int(rand(RR)*2) translate <X + (rand(RR)-0.5)*30, Y + (rand(RR)-0.5)*16, 0> texture { #if (rand(RR) > 0.5) Tan #else Chip #end } } #local Q = Q + 1; #end } #end

#macro Shell() union {
  difference { object { RBox(0, 0, 150, 96, 18, -28, 0) } object { RBox(0, 0, 134, 80, 12, -22, 2) } texture { Slate } }
  difference { object { RBox(0, 0, 142, 88, 15, -1, 1.2) } object { RBox(0, 0, 134, 80, 12, -2, 4) } texture { Slate2 } }
  difference { cylinder { <75, 0, -28>, <75, 0, -1>, 24 } cylinder { <75, 0, -24>, <75, 0, 2>, 17 } box { <30, -40, -40>, <70, 40, 10> } texture { Slate } }
  object { RBox(0, 0, 134, 80, 12, -23, -22) texture { Slate2 } }
} #end
#macro Collar(Open) union { #if (Open = 0) cylinder { <78, 0, -10>, <78, 0, 2>, 19 texture { Orange } } torus { 13, 1.4 rotate 90*x translate <78, 0, 2> texture { Slate } } cylinder { <78, 0, 2>, <78, 0, 3>, 7 texture { Steel } } #else cylinder { <78, 0, -24>, <78, 0, -20>, 16.5 texture { Blue } } cylinder { <78, 0, -20>, <78, 0, -12>, 6 texture { Brass } } object { RBox(70, 8, 9, 6, 1, -20, -17) texture { Chip } } object { Plug(86, -6, 8, 4, -20) } #end } #end
#macro Lid() union {
  object { RBox(0, 0, 146, 92, 17, -2, 7) texture { Slate2 } }
  difference { object { RBox(0, 0, 140, 86, 14, 6, 8.4) } object { RBox(-8, 8, 84, 50, 5, 5, 12) } texture { Slate } }
  object { RBox(-8, 8, 84, 50, 4, 6.6, 7.2) pigment { srgb <0.10, 0.16, 0.17> } finish { specular 0.7 roughness 0.01 reflection 0.08 } }
  object { RBox(-8, 8, 74, 40, 2, 7.1, 7.3) pigment { srgb <0.52, 0.60, 0.50> } finish { diffuse 0.7 } }
  cylinder { <54, 22, 7>, <54, 22, 10>, 7 texture { Orange } } cylinder { <54, 2, 7>, <54, 2, 10>, 5 texture { Rubber } } cylinder { <54, -14, 7>, <54, -14, 10>, 5 texture { Rubber } }
  object { RBox(-8, -30, 60, 8, 2, 8, 8.7) texture { Silver } }
} #end
#macro LidScrews() union { #local K = 0; #while (K < 4) object { Hex(-62 + K*40, 41, 8, 2.7) } object { Hex(-62 + K*40, -41, 8, 2.7) } #local K = K + 1; #end } #end
#macro Board() union {
  object { RBox(-12, 4, 104, 66, 3, -12, -10.4) texture { Green } }
  object { Bits(-10, -2, 46, 7) translate -10.4*z } object { Bits(18, 18, 30, 11) translate -10.4*z } object { Bits(-36, 20, 26, 5) translate -10.4*z }
  object { RBox(-38, 14, 20, 20, 0.6, -10.4, -8.6) texture { Chip } } object { RBox(-8, 18, 16, 14, 0.6, -10.4, -8.8) texture { Chip } }
  object { RBox(-34, -14, 22, 12, 0.6, -10.4, -8.8) texture { Chip } } object { RBox(12, 2, 10, 18, 0.6, -10.4, -8.9) texture { Chip } }
  object { Plug(28, 26, 16, 5, -10.4) } object { Plug(30, -18, 16, 5, -10.4) } object { Plug(-56, -2, 6, 16, -10.4) } object { Plug(4, -24, 14, 5, -10.4) }
  cylinder { <34, 8, -10.4>, <34, 8, -7>, 6.5 texture { Chip } } cylinder { <34, 8, -7>, <34, 8, -6.8>, 1.2 texture { Steel } }
  cylinder { <-20, -26, -10.4>, <-20, -26, -8.6>, 1.7 texture { Brass } } cylinder { <-26, -26, -10.4>, <-26, -26, -8.6>, 1.7 texture { Brass } }
  object { RBox(-46, -24, 16, 12, 1, -10.4, -7.4) texture { Silver } } object { RBox(-46, -25, 12, 9, 0.5, -7.4, -7.0) texture { Chip } }
  object { Cross(-61, 34, -9.8, 2.3) } object { Cross(-12, 34, -9.8, 2.3) } object { Cross(37, 34, -9.8, 2.3) } object { Cross(-61, -26, -9.8, 2.3) } object { Cross(37, -26, -9.8, 2.3) }
  object { Cross(-12, -26, -9.8, 2.3) } object { Cross(-61, 12, -9.8, 2.3) } object { Cross(37, -6, -9.8, 2.3) } object { Cross(0, 8, -9.8, 2.3) } object { Cross(-22, 2, -9.8, 2.3) }
} #end
#macro ShieldPlate() union { difference { object { RBox(-28, 12, 58, 40, 2, -8, -6.6) } #local G = 0; #while (G < 5) cylinder { <-48 + G*10, 22, -9>, <-48 + G*10, 22, 0>, 1.5 } #local G = G + 1; #end texture { Steel } } object { Cross(-52, 28, -6, 2) } object { Cross(-4, 28, -6, 2) } object { Cross(-52, -4, -6, 2) } object { Cross(-4, -4, -6, 2) } object { Cross(-28, 28, -6, 2) } object { RBox(-28, 8, 26, 9, 0.4, -6.6, -6.5) texture { White } } } #end
#macro PortBoard() union { object { RBox(-58, -14, 14, 40, 2, -18, -16.6) texture { Blue } } object { RBox(-61, -18, 9, 10, 1.5, -16.6, -12.8) texture { Silver } } object { Plug(-54, -2, 5, 10, -16.6) } object { Cross(-57, 3, -16, 2) } object { Cross(-57, -31, -16, 2) } } #end
#macro Cell() union { object { RBox(-14, -16, 60, 36, 4, -20, -13) texture { Silver } } object { RBox(-14, -16, 46, 22, 1, -13, -12.9) texture { White } } object { RBox(-14, -10, 36, 2, 0.3, -12.9, -12.8) texture { Chip } } object { RBox(-20, -16, 24, 1.4, 0.3, -12.9, -12.8) texture { Chip } } object { RBox(-18, -20, 28, 1.4, 0.3, -12.9, -12.8) texture { Chip } } cylinder { <16, -12, -15>, <27, -8, -15>, 0.8 pigment { srgb <0.6, 0.08, 0.06> } } cylinder { <16, -15, -15>, <27, -12, -15>, 0.8 texture { Chip } } object { Plug(30, -10, 7, 9, -16) } } #end
#macro Radio() union { object { RBox(-10, 22, 84, 30, 2, -19, -17.6) texture { Blue } } object { RBox(-26, 22, 30, 20, 1, -17.6, -15) texture { Steel } } object { RBox(12, 24, 14, 12, 0.5, -17.6, -16) texture { Chip } } object { Bits(20, 22, 24, 3) translate -17.6*z } cylinder { <26, 14, -17.6>, <26, 14, -15.6>, 1.7 texture { Brass } } cylinder { <20, 14, -17.6>, <20, 14, -15.6>, 1.7 texture { Brass } } object { Plug(-48, 20, 5, 12, -17.6) } object { Star(-50, 34, -17, 2) } object { Star(30, 34, -17, 2) } object { Star(-50, 10, -17, 2) } object { Star(30, 10, -17, 2) } } #end

#if (Stage = 1) object { Shell() } object { Lid() } object { LidScrews() } object { Collar(0) } #end
#if (Stage = 2) object { Shell() } object { PortBoard() } object { Board() } object { ShieldPlate() } object { Collar(0) } #end
#if (Stage = 3) object { Shell() } object { PortBoard() } object { Board() } object { Collar(0) } #end
#if (Stage = 4) object { Shell() } object { PortBoard() } object { Radio() } object { Cell() } object { Collar(0) } #end
#if (Stage = 5) object { Shell() } object { PortBoard() } object { Cell() } object { Collar(1) } object { RBox(-10, 24, 84, 26, 2, -22, -21.4) texture { Amber } } #end
#if (Stage = 6 | Stage = 7)
  object { RBox(0, 0, 150, 96, 18, -28, 0) texture { Slate } } cylinder { <-75, 0, -28>, <-75, 0, -1>, 24 texture { Slate } } cylinder { <-78, 0, -10>, <-78, 0, 0.6>, 18 texture { Orange } }
  object { RBox(0, 0, 138, 84, 14, -1, 1) texture { Slate2 } }
  #if (Stage = 6)
    cylinder { <-54, 32, 1>, <-54, 32, 4>, 7 texture { Rubber } } cylinder { <54, 32, 1>, <54, 32, 4>, 7 texture { Rubber } } cylinder { <-54, -32, 1>, <-54, -32, 4>, 7 texture { Rubber } } cylinder { <54, -32, 1>, <54, -32, 4>, 7 texture { Rubber } }
    object { RBox(12, 0, 62, 34, 3, 0.8, 1.6) texture { Slate } } object { Star(-12, 0, 1.8, 2.2) } object { Star(36, 0, 1.8, 2.2) }
    object { RBox(12, -30, 46, 12, 1, 1, 1.2) texture { White } }
  #else
    object { Star(-54, 32, 1, 2.6) } object { Star(54, 32, 1, 2.6) } object { Star(-54, -32, 1, 2.6) } object { Star(54, -32, 1, 2.6) }
    object { RBox(12, 0, 62, 34, 3, 0.8, 1.1) texture { Chip } } object { RBox(12, 0, 54, 27, 2, 1.1, 2.0) texture { Silver } } object { Plug(-8, 8, 9, 7, 1.9) } cylinder { <-2, 9, 3>, <14, 12, 3>, 0.8 pigment { srgb <0.6, 0.08, 0.06> } } cylinder { <-2, 7, 3>, <14, 8, 3>, 0.8 texture { Chip } }
    object { RBox(12, -30, 46, 12, 1, 1, 1.2) texture { White } }
  #end
#end
#if (Stage = 8)
  object { RBox(0, 0, 146, 92, 17, -12, -4) texture { Slate } } difference { object { RBox(0, 0, 140, 86, 14, -5, 0) } object { RBox(0, 0, 130, 76, 11, -6, 4) } texture { Slate2 } }
  difference { object { RBox(0, 0, 136, 82, 12.5, -0.5, 0.8) } object { RBox(0, 0, 133, 79, 12, -2, 4) } texture { Orange } }
  object { RBox(8, 8, 88, 54, 3, -4, -1.6) texture { Silver } } object { RBox(8, 8, 70, 40, 2, -1.6, -1.2) texture { Steel } } object { Cross(-32, 32, -1, 2) } object { Cross(48, 32, -1, 2) } object { Cross(-32, -16, -1, 2) } object { Cross(48, -16, -1, 2) }
  object { RBox(-52, 6, 14, 54, 2, -4, -2.6) texture { Amber } } cylinder { <-52, 24, -2.6>, <-52, 24, -2>, 4 texture { White } } cylinder { <-52, 4, -2.6>, <-52, 4, -2>, 4 texture { White } } cylinder { <-52, -12, -2.6>, <-52, -12, -2>, 4 texture { White } }
  object { RBox(10, -28, 30, 8, 1, -3, -2.2) texture { Amber } } object { Plug(28, -28, 10, 5, -2.2) }
#end
#if (Stage = 9)
  cylinder { <0, 0, -20>, <0, 0, -6>, 52 texture { Orange } } difference { cylinder { <0, 0, -10>, <0, 0, 0>, 52 } cylinder { <0, 0, -12>, <0, 0, 2>, 44 } texture { Slate } } cylinder { <0, 0, -8>, <0, 0, -5>, 43 texture { Blue } }
  torus { 46, 1.3 rotate 90*x translate 0.4*z texture { Rubber } }
  cylinder { <0, 6, -5>, <0, 6, 2>, 13 texture { Brass } } cylinder { <0, 6, 2>, <0, 6, 2.4>, 8 texture { Steel } } cylinder { <24, -16, -5>, <24, -16, -1>, 7 texture { Steel } } object { RBox(-24, -14, 18, 10, 1, -5, -3) texture { Chip } } object { Plug(0, -28, 18, 6, -5) }
  object { Star(0, 38, -3, 2.6) } object { Star(33, -19, -3, 2.6) } object { Star(-33, -19, -3, 2.6) }
#end
#if (Stage = 10)
  object { Lid() scale 0.42 translate <-62, 44, -20> } object { Board() scale 0.46 translate <8, 44, -14> } object { ShieldPlate() scale 0.46 translate <80, 44, -20> }
  object { Shell() scale 0.46 translate <-58, -10, -12> } object { Radio() scale 0.5 translate <18, -16, -14> } object { Cell() scale 0.5 translate <84, -2, -16> } object { PortBoard() scale 0.6 translate <86, 10, -12> }
  union { #local K = 0; #while (K < 8) cylinder { <-88 + K*9, -52, -29>, <-88 + K*9, -62, -29>, 1.2 texture { Steel } } sphere { <-88 + K*9, -52, -29>, 2.2 texture { Steel } } #local K = K + 1; #end }
  union { #local K = 0; #while (K < 10) cylinder { <0 + K*7, -54, -29>, <0 + K*7, -59, -29>, 0.9 texture { Steel } } sphere { <0 + K*7, -54, -29>, 1.8 texture { Brass } } #local K = K + 1; #end }
  cylinder { <82, -44, -30>, <82, -44, -24>, 10 texture { Orange } }
#end

#if (Stage = 11)
  object { RBox(0, 0, 104, 66, 3, -12, -10.4) texture { Green } }
  object { Bits(12, -14, 40, 17) translate -10.4*z } object { Bits(-30, -16, 24, 23) translate -10.4*z } object { Bits(34, 22, 18, 31) translate -10.4*z }
  cylinder { <-20, 10, -10.4>, <-20, 10, -9.6>, 11 texture { Chip } } cylinder { <-20, 10, -9.6>, <-20, 10, -7>, 10 texture { Silver } }
  object { RBox(18, 12, 12, 8, 0.6, -10.4, -8.8) texture { Chip } } object { RBox(26, -12, 9, 9, 0.6, -10.4, -9.2) texture { Chip } }
  #local K = 0; #while (K < 4) cylinder { <-44 + K*3, 26, -10.6>, <-44 + K*3, 26, -10.2>, 0.9 texture { Brass } } #local K = K + 1; #end
#end
#if (Stage = 12)
  object { RBox(0, 0, 84, 30, 2, -19, -17.6) texture { Blue } }
  object { Bits(18, 4, 22, 13) translate -17.6*z } object { Bits(-32, 2, 8, 19) translate -17.6*z }
  object { RBox(-14, 0, 12, 8, 0.5, -17.6, -16.2) texture { Chip } }
#end
