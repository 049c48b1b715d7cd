// SPDX-License-Identifier: Apache-2.0
// A greenhouse corridor of the Palmarium: benches of pots, arches of iron, sun through old glass.
#version 3.7;
#include "plants.inc"
global_settings {
  assumed_gamma 1.0
  max_trace_level 12
  radiosity { pretrace_start 0.08 pretrace_end 0.02 count 60 nearest_count 6 error_bound 0.9 recursion_limit 1 brightness 1.7 }
}
camera { location <-0.25, 1.62, -4.6> look_at <0.06, 1.55, 10> right x*image_width/image_height angle 66 }
#declare R = seed(303);
light_source { <-90, 130, 60> rgb <1.5, 1.36, 1.08>*1.9 area_light x*8, z*8, 3, 3 adaptive 1 jitter circular orient }
sky_sphere { pigment { gradient y color_map { [0 rgb <0.90, 0.88, 0.82>] [0.3 rgb <0.62, 0.74, 0.86>] [1 rgb <0.28, 0.46, 0.74>] } } }
plane { y, -0.3 pigment { rgb <0.16, 0.20, 0.08> } }

// --- floor of clay tiles, worn ------------------------------------------------
#for (J, 0, 75) #for (I, -4, 4)
  superellipsoid { <0.08, 0.1> scale <0.148, 0.03, 0.148> rotate y*(rand(R) - 0.5)*1.5 translate <I*0.305, -0.03 + 0.006*rand(R), -5 + J*0.305>
    pigment { granite scale 0.3 translate rand(R)*30 color_map { [0 rgb #if (mod(I + J + 80, 2) = 0) <0.46, 0.20, 0.12> #else <0.55, 0.46, 0.34> #end * (0.75 + 0.35*rand(R))] [1 rgb #if (mod(I + J + 80, 2) = 0) <0.36, 0.16, 0.10> #else <0.44, 0.38, 0.29> #end] } }
    finish { diffuse 0.75 specular 0.25 roughness 0.02 reflection { 0.01, 0.16 fresnel on } } interior { ior 1.4 } normal { bumps 0.08 scale 0.1 } }
#end #end
box { <-4, -0.2, -6>, <4, -0.055, 20> pigment { rgb <0.22, 0.19, 0.15> } }

// --- the house -----------------------------------------------------------------
#declare Iron = texture { pigment { rgb <0.62, 0.70, 0.62> } normal { bumps 0.2 scale 0.03 } finish { diffuse 0.75 specular 0.25 roughness 0.04 } }
#declare Pane = texture { pigment { rgbf <0.90, 0.97, 0.94, 0.90> } normal { bumps 0.02 scale 0.7 } finish { diffuse 0.08 specular 0.5 roughness 0.004 reflection { 0.04, 0.5 fresnel on } } }
#for (B, 0, 12)
  #local Z = -4.8 + B*2;
  intersection { torus { 2.9, 0.055 rotate x*90 } plane { -y, 0 } translate <0, 2.3, Z> texture { Iron } }
  #for (S, -1, 1, 2)
    cylinder { <S*2.9, -0.1, Z>, <S*2.9, 2.3, Z>, 0.06 texture { Iron } }
    sphere { <S*2.9, 2.3, Z>, 0.11 texture { Iron } }
    sphere_sweep { b_spline 6, <S*2.9, 1.4, Z>, 0.02, <S*2.85, 1.75, Z>, 0.022, <S*2.6, 2.15, Z>, 0.022, <S*2.2, 2.35, Z>, 0.02, <S*2.15, 2.6, Z>, 0.018, <S*2.3, 2.65, Z>, 0.015 texture { Iron } }
  #end
#end
#for (B, 0, 48) intersection { torus { 2.9, 0.018 rotate x*90 } plane { -y, 0 } translate <0, 2.3, -4.8 + B*0.5> texture { Iron } } #end
#for (K, 0, 12) #local A = pi*K/12; cylinder { <-2.9*cos(A), 2.3 + 2.9*sin(A), -5>, <-2.9*cos(A), 2.3 + 2.9*sin(A), 20>, #if (mod(K, 3) = 0) 0.04 #else 0.018 #end texture { Iron } } #end
difference { cylinder { <0, 2.3, -5>, <0, 2.3, 19.4>, 2.93 } cylinder { <0, 2.3, -6>, <0, 2.3, 20>, 2.92 } plane { y, 2.3 } texture { Pane } }
#for (S, -1, 1, 2)
  box { <S*2.91, 0.8, -5>, <S*2.92, 2.3, 19.4> texture { Pane } }
  box { <S*2.80, -0.1, -5>, <S*3.05, 0.8, 19.4> pigment { brick rgb <0.62, 0.58, 0.50>, rgb <0.42, 0.20, 0.14> brick_size <0.24, 0.08, 0.12> mortar 0.012 turbulence 0.02 } normal { granite 0.4 scale 0.05 } }
  #for (B, 0, 48) cylinder { <S*2.9, 0.8, -4.8 + B*0.5>, <S*2.9, 2.3, -4.8 + B*0.5>, 0.016 texture { Iron } } #end
#end
// end wall with a door
box { <-2.9, 0.8, 19.4>, <2.9, 5.2, 19.42> texture { Pane } }
#for (I, -5, 5) cylinder { <I*0.5, 0, 19.4>, <I*0.5, 2.3 + sqrt(2.9*2.9 - I*I*0.25), 19.4>, 0.03 texture { Iron } } #end
box { <-0.7, 0, 19.3>, <0.7, 2.5, 19.38> texture { pigment { rgb <0.10, 0.26, 0.20> } finish { specular 0.3 } } }
box { <-0.55, 1.0, 19.25>, <0.55, 2.35, 19.36> texture { Pane } }

// --- benches -----------------------------------------------------------------
#for (S, -1, 1, 2)
  #for (I, 0, 6) box { <S*1.38, 0.80, -5>, <S*1.38 + S*0.19, 0.845, 19> translate x*S*I*0.205
    pigment { wood turbulence 0.05 scale <0.06, 0.06, 2> rotate x*2 translate rand(R)*9 color_map { [0 rgb <0.42, 0.31, 0.20>] [1 rgb <0.28, 0.20, 0.13>] } } normal { wood 0.3 scale <0.05, 0.05, 1> } finish { diffuse 0.8 } } #end
  #for (B, 0, 12) cylinder { <S*1.5, 0, -4.6 + B*2>, <S*1.5, 0.8, -4.6 + B*2>, 0.045 texture { Iron } } #end
#end
#declare Soft = Crown_Mesh(31, 30, 150, 0.06)
#declare Fine = Crown_Mesh(32, 36, 220, 0.035)
#declare PalmA = Palm_Mesh(33, 13)
#declare PalmB = Palm_Mesh(34, 18)
#declare Blades = Grass_Mesh(35, 90, 0.5, 1.2, 0.016)
#macro Pot(P, S)
  union {
    difference { cone { 0, 0.11, y*0.22, 0.16 } cone { y*0.02, 0.09, y*0.23, 0.145 } } difference { cylinder { y*0.19, y*0.25, 0.175 } cylinder { y*0.1, y*0.3, 0.15 } }
    cylinder { y*0.18, y*0.2, 0.15 pigment { rgb <0.09, 0.06, 0.04> } }
    pigment { bozo scale 0.1 turbulence 0.6 translate rand(R)*20 color_map { [0 rgb <0.58, 0.25, 0.13>*(0.8 + 0.4*rand(R))] [0.7 rgb <0.50, 0.24, 0.14>] [1 rgb <0.62, 0.50, 0.40>] } } normal { granite 0.2 scale 0.05 } finish { diffuse 0.8 }
    scale S translate P }
#end
#macro Plant(P, S, K)
  #local G = <0.12 + 0.10*rand(R), 0.26 + 0.12*rand(R), 0.05 + 0.03*rand(R)>;
  union {
    #switch (K)
      #case (0) object { Soft scale <0.75, 0.8, 0.75> translate y*0.42 pigment { rgb G } } #break
      #case (1) object { PalmA scale 0.62 translate y*0.30 pigment { rgb G } } #break
      #case (2) object { Blades scale <0.6, 0.75, 0.6> translate y*0.18 pigment { rgb G*<1.2, 1.1, 1> } } #break
      #case (3) object { PalmB scale 0.8 translate y*0.5 pigment { rgb G*<0.8, 0.9, 1> } } cylinder { y*0.2, y*0.5, 0.03 pigment { rgb <0.22, 0.16, 0.09> } } #break
      #else object { Fine scale <0.62, 0.62, 0.62> translate y*0.38 pigment { rgb G } }
        #local C = <0.93, 0.66, 0.14>;
        #local Kind = rand(R);
        #if (Kind < 0.75) #local C = <0.88, 0.48, 0.60>; #end
        #if (Kind < 0.5) #local C = <0.92, 0.86, 0.80>; #end
        #if (Kind < 0.25) #local C = <0.85, 0.16, 0.14>; #end
        #for (F, 1, 34) sphere { vnormalize(<rand(R) - 0.5, rand(R)*0.8, rand(R) - 0.5>)*0.29 + y*0.38, 0.022 + 0.018*rand(R) pigment { rgb C*(0.75 + 0.35*rand(R)) } } #end
    #end
    finish { diffuse 0.85 specular 0.15 roughness 0.05 }
    rotate y*360*rand(R) scale S translate P }
#end
#for (S, -1, 1, 2)
  #for (Row, 0, 2)
    #for (I, 0, 34)
      #local P = <S*(1.58 + Row*0.46 + 0.08*rand(R)), 0.845, -3.6 + I*0.62 + 0.18*rand(R)>;
      #local Z = 0.8 + 0.35*rand(R) + Row*0.16;
      Pot(P, Z) Plant(P, Z*(0.95 + 0.3*rand(R)), int(rand(R)*5.99))
    #end
  #end
  // hanging baskets
  #for (I, 0, 6)
    #local P = <S*1.35, 3.05 - 0.3*rand(R), 0.2 + I*3>;
    cylinder { P + y*0.15, <P.x, 4.75, P.z>, 0.006 texture { Iron } }
    sphere { P, 0.16 scale 1 pigment { rgb <0.24, 0.17, 0.10> } normal { bumps 0.9 scale 0.02 } }
    object { Soft scale <0.8, 0.62, 0.8> rotate y*360*rand(R) translate P pigment { rgb <0.17, 0.34, 0.08> } finish { diffuse 0.85 } }
    #for (K, 1, 14) object { Blades scale <0.3, -0.5, 0.3> rotate y*360*rand(R) translate P pigment { rgb <0.20, 0.36, 0.10> } } #end
  #end
#end
// things left in the way: a watering can and a broom-coloured hose
union {
  cone { 0, 0.15, y*0.28, 0.13 } torus { 0.14, 0.014 translate y*0.28 } cone { <0.12, 0.08, 0>, 0.03, <0.42, 0.36, 0>, 0.018 } cone { <0.42, 0.36, 0>, 0.02, <0.47, 0.41, 0>, 0.055 }
  sphere_sweep { b_spline 6, <-0.1, 0.1, 0>, 0.012, <-0.13, 0.1, 0>, 0.012, <-0.30, 0.22, 0>, 0.012, <-0.16, 0.42, 0>, 0.012, <0.08, 0.34, 0>, 0.012, <0.1, 0.2, 0>, 0.012 }
  pigment { rgb <0.42, 0.47, 0.48> } normal { bumps 0.15 scale 0.05 } finish { metallic diffuse 0.6 specular 0.6 roughness 0.04 reflection 0.12 } rotate y*-40 translate <0.75, 0, 0.2> }
sphere_sweep { b_spline 9, <-1.2, 0.03, -3>, 0.022, <-1.0, 0.02, -2.6>, 0.022, <-0.8, 0.02, -1.6>, 0.022, <-1.05, 0.02, -0.8>, 0.022, <-0.75, 0.02, 0.4>, 0.022, <-1.0, 0.02, 1.8>, 0.022, <-0.9, 0.02, 3.4>, 0.022, <-1.15, 0.1, 4.6>, 0.022, <-1.3, 0.6, 5>, 0.022
  pigment { rgb <0.14, 0.34, 0.16> } finish { specular 0.4 roughness 0.02 } }
// trees outside
#declare CrownA = Crown_Mesh(41, 40, 200, 0.04)
#for (S, -1, 1, 2) #for (I, 0, 9) object { CrownA rotate y*360*rand(R) scale <4, 4.5, 4> translate <S*(6 + 2*rand(R)), 1.6, -3 + I*3> pigment { rgb <0.16, 0.26, 0.07>*(0.8 + 0.4*rand(R)) } } #end #end
