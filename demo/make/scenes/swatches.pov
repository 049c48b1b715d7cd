// SPDX-License-Identifier: Apache-2.0
// Four swatches of the Palmarium, photographed from above in flat light: View 0 moss on stone, 1 rattan,
// 2 cracked glaze, 3 gravel. The camera sees 10 x 10 units.
#version 3.7;
global_settings {
  assumed_gamma 1.0
  max_trace_level 4
  radiosity { pretrace_start 0.08 pretrace_end 0.02 count 60 nearest_count 8 error_bound 0.8 recursion_limit 1 brightness 1.0 }
}
camera { orthographic location <0, 20, 0> look_at <0, 0, 0> right x*10 up z*10 }
// A wide window from the upper left and a little sky: relief shows, no part is darker than another.
light_source { <-60, 75, 60> rgb <1.0, 0.95, 0.86>*1.75 area_light x*26, z*26, 5, 5 adaptive 1 jitter parallel point_at <0, 0, 0> }
light_source { <50, 80, -40> rgb <0.55, 0.68, 0.85>*0.40 parallel point_at <0, 0, 0> shadowless }
sky_sphere { pigment { rgb <0.45, 0.52, 0.60>*0.55 } }
#declare R = seed(41 + View);
#macro Between(A, B) (A + (B - A)*rand(R)) #end

#if (View = 0) // --- moss on stone ---------------------------------------------
#declare Rough = function { pattern { granite scale 0.55 } }
#declare Lumps = function { pattern { bozo turbulence 0.5 octaves 4 scale 1.15 translate <3, 0, 8> } }
height_field { function 900, 900 { 0.55*Rough(x, y, z) }
  smooth translate <-0.5, 0, -0.5> scale <13, 1.1, 13>
  texture {
    pigment { granite scale 1.3 turbulence 0.2 color_map { [0 rgb <0.30, 0.28, 0.26>] [0.35 rgb <0.42, 0.40, 0.37>] [0.7 rgb <0.52, 0.49, 0.44>] [1 rgb <0.22, 0.21, 0.21>] } }
    normal { granite 0.5 scale 0.25 } finish { diffuse 0.75 specular 0.06 roughness 0.06 } } }
#declare I = 0;
#while (I < 52000)
  #declare X = Between(-6, 6); #declare Z = Between(-6, 6);
  #declare M = Lumps(X, 0, Z) - 0.50 + 0.06*(rand(R) - 0.5);
  #if (M > 0)
    #declare H = 0.30 + min(0.55, 2.2*M) + 0.10*rand(R);
    #declare G = rand(R);
    #declare Hue = Lumps(X*0.4 + 40, 3, Z*0.4);
    #declare Tip = <X + Between(-0.09, 0.09), H + 0.35, Z + Between(-0.09, 0.09)>;
    cone { <X, H - 0.3, Z>, 0.055, Tip, 0.010
      pigment { rgb <0.10 + 0.20*G + 0.10*Hue, 0.24 + 0.22*G, 0.035 + 0.06*G>*(0.55 + 0.6*min(1, 3*M)) }
      finish { diffuse 0.85 specular 0.05 roughness 0.1 } }
  #end
  #declare I = I + 1;
#end
#end

#if (View = 1) // --- rattan ---------------------------------------------------
plane { y, -0.7 pigment { rgb <0.055, 0.035, 0.02> } finish { diffuse 0.6 } }
#declare Pitch = 1.0;
#macro Cane(Shade)
    pigment { wood turbulence 0.06 octaves 3 scale 0.09 rotate <3, 90, 0> translate <Between(0, 9), Between(0, 9), Between(0, 9)>
      color_map { [0 rgb <0.62, 0.42, 0.20>*Shade] [0.5 rgb <0.70, 0.50, 0.26>*Shade] [0.85 rgb <0.50, 0.32, 0.14>*Shade] [1 rgb <0.60, 0.40, 0.19>*Shade] } }
    normal { granite 0.12 scale <0.9, 0.06, 0.06> }
    finish { diffuse 0.72 specular 0.35 roughness 0.025 } #end
// Stakes stand along z in pairs; strands go over and under, each row the other way round.
#for (I, -7, 7)
  #for (K, 0, 1)
    #declare S = Between(0.85, 1.1);
    sphere_sweep { b_spline 9
      #for (J, -4, 4) <I*Pitch + (K - 0.5)*0.30 + Between(-0.025, 0.025), -0.02 + Between(-0.02, 0.02), J*2.2>, 0.135 + Between(-0.008, 0.008) #end
      texture { Cane(S) rotate y*90 } }
  #end
#end
#for (J, -18, 18)
  #declare S = Between(0.80, 1.12);
  #declare Z0 = J*0.335 + Between(-0.015, 0.015);
  sphere_sweep { cubic_spline 33
    #for (I, -16, 16)
      #declare Up = 0.235*cos(pi*(I/2 + mod(J + 40, 2)));
      <I*Pitch/2 + Between(-0.02, 0.02), Up, Z0 + Between(-0.022, 0.022)>, 0.152 + Between(-0.010, 0.010)
    #end
    tolerance 0.02 texture { Cane(S) } }
#end
#end

#if (View = 2) // --- cracked glaze -----------------------------------------------
#declare Glaze = texture {
    pigment { bozo turbulence 0.7 octaves 5 scale 1.5
      color_map { [0 rgb <0.13, 0.36, 0.37>] [0.4 rgb <0.20, 0.47, 0.44>] [0.7 rgb <0.34, 0.58, 0.50>] [1 rgb <0.52, 0.68, 0.56>] } }
    normal { bumps 0.10 scale 0.7 } finish { diffuse 0.75 specular 0.5 roughness 0.012 reflection 0.03 } }
#declare Line = texture { pigment { rgb <0.15, 0.085, 0.045> } finish { diffuse 0.6 } }
#declare Stain = texture { pigment { rgb <0.22, 0.30, 0.25> } finish { diffuse 0.7 specular 0.3 roughness 0.02 } }
#declare FineCracked = texture { crackle turbulence 0.15 octaves 3 scale 0.52 translate 7 texture_map { [0 Stain] [0.028 Stain] [0.055 Glaze] [1 Glaze] } }
plane { y, 0
  texture { crackle turbulence 0.12 octaves 3 lambda 2 omega 0.4 scale 1.35
    texture_map { [0 Line] [0.022 Line] [0.040 Stain] [0.085 FineCracked] [1 FineCracked] } } }
#end

#if (View = 3) // --- gravel -----------------------------------------------------
plane { y, -0.9 pigment { rgb <0.06, 0.052, 0.045> } finish { diffuse 0.6 } }
#macro Stone(X, Y, Z, S)
  #declare T = rand(R);
  #declare C = Between(0.55, 1.2);
  isosurface {
    function { x*x + y*y + z*z - 0.78 + 0.55*(f_noise3d(x*1.3 + SX, y*1.3, z*1.3) - 0.5) + 0.06*(f_noise3d(x*6 + SX, y*6, z*6) - 0.5) }
    contained_by { sphere { 0, 1.15 } } max_gradient 3.6 accuracy 0.01
    scale <S*Between(0.85, 1.3), S*Between(0.5, 0.75), S*Between(0.75, 1.0)> rotate <Between(-18, 18), Between(0, 360), Between(-18, 18)>
    translate <X, Y, Z>
    texture { pigment { granite scale 0.8*S translate SX
      #if (T < 0.45) color_map { [0 rgb <0.46, 0.43, 0.39>*C] [0.6 rgb <0.56, 0.52, 0.47>*C] [1 rgb <0.38, 0.35, 0.32>*C] }
      #else #if (T < 0.75) color_map { [0 rgb <0.52, 0.41, 0.29>*C] [0.6 rgb <0.62, 0.50, 0.36>*C] [1 rgb <0.42, 0.32, 0.22>*C] }
      #else #if (T < 0.9) color_map { [0 rgb <0.26, 0.28, 0.30>*C] [0.6 rgb <0.34, 0.36, 0.38>*C] [1 rgb <0.20, 0.21, 0.23>*C] }
      #else color_map { [0 rgb <0.72, 0.68, 0.62>*C] [0.7 rgb <0.80, 0.77, 0.71>*C] [1 rgb <0.62, 0.58, 0.52>*C] } #end #end #end }
      normal { granite 0.25 scale 0.4*S } finish { diffuse 0.75 specular 0.08 roughness 0.06 } } }
#end
#include "functions.inc"
#for (L, 0, 2)
  #for (A, -14, 14) #for (B, -14, 14)
    #declare SX = rand(R)*90;
    #declare S = 0.24 + 0.20*pow(rand(R), 1.6);
    Stone(A*0.46 + Between(-0.2, 0.2), -0.62 + L*0.27, B*0.46 + Between(-0.2, 0.2), S*(1.12 - 0.12*L))
  #end #end
#end
#end
