// SPDX-License-Identifier: Apache-2.0
// The wrought-iron gate of the Palmarium with its tiled pillars, under a high thin overcast.
#version 3.7;
#include "plants.inc"
global_settings {
  assumed_gamma 1.0
  max_trace_level 6
  radiosity { pretrace_start 0.08 pretrace_end 0.02 count 60 nearest_count 6 error_bound 0.9 recursion_limit 1 brightness 0.9 }
}
camera { location <-1.5, 1.72, -8.4> look_at <0.12, 1.95, 2> right x*image_width/image_height angle 48 }
#declare R = seed(77);

light_source { <60, 110, -70> rgb <1.25, 1.16, 1.02>*1.1 area_light x*22, z*22, 4, 4 adaptive 1 jitter circular orient }
sky_sphere {
  pigment { gradient y color_map { [0 rgb <0.86, 0.85, 0.82>] [0.25 rgb <0.66, 0.74, 0.82>] [1 rgb <0.30, 0.46, 0.68>] } }
  pigment { wrinkles turbulence 0.6 octaves 7 lambda 2.2 scale <1.1, 0.25, 1.1>
    color_map { [0 rgbt <1, 1, 1, 0.05>] [0.5 rgbt <0.97, 0.97, 0.97, 0.5>] [0.8 rgbt 1] } }
}

// --- ground: setts in front, gravel behind ----------------------------------
plane { y, -0.02
  pigment { granite scale 0.2 color_map { [0 rgb <0.30, 0.26, 0.21>] [1 rgb <0.46, 0.41, 0.34>] } } normal { granite 0.6 scale 0.05 } finish { diffuse 0.8 } }
#for (J, -30, -2) #for (I, -26, 26)
  superellipsoid { <0.3, 0.3> scale <0.118, 0.06, 0.078> rotate y*(rand(R) - 0.5)*5
    translate <I*0.25 + 0.125*mod(J + 60, 2) + 0.01*rand(R), -0.03 + 0.018*rand(R), J*0.17 + 0.3>
    pigment { granite scale 0.15 translate <I, J, 3>
      color_map { [0 rgb <0.24, 0.22, 0.21>*(0.7 + 0.6*rand(R))] [1 rgb <0.40, 0.37, 0.34>*(0.75 + 0.5*rand(R))] } }
    normal { granite 0.3 scale 0.05 } finish { diffuse 0.75 specular 0.12 roughness 0.05 } }
#end #end
#declare Turf = Grass_Mesh(6, 3600, 2, 0.13, 0.008)
#for (J, 0, 9) #for (I, 0, 5)
  object { Turf rotate y*90*int(4*rand(R)) translate <-3.4 - I*1.9, -0.02, 1 + J*1.9> pigment { rgb <0.15 + 0.07*rand(R), 0.27, 0.055> } finish { diffuse 0.9 } }
  object { Turf rotate y*90*int(4*rand(R)) translate <3.4 + I*1.9, -0.02, 1 + J*1.9> pigment { rgb <0.15 + 0.07*rand(R), 0.27, 0.055> } finish { diffuse 0.9 } }
#end #end

// --- pillars of glazed tiles --------------------------------------------------
#macro Tile(P, W, H, C)
  superellipsoid { <0.12, 0.12> scale <W/2 - 0.006, H/2 - 0.006, 0.02> translate P
    pigment { bozo scale 0.12 translate rand(R)*40 turbulence 0.5 color_map { [0 rgb C*(0.75 + 0.25*rand(R))] [1 rgb C*(1.0 + 0.3*rand(R))] } }
    normal { bumps 0.05 scale 0.08 } finish { diffuse 0.7 specular 0.7 roughness 0.008 reflection { 0.03, 0.4 fresnel on } } interior { ior 1.5 } }
#end
#macro Lily(P)
  #for (K, -2, 2)
    sphere { 0, 1 scale <0.035, 0.12, 0.012> translate y*0.1 rotate z*K*27 translate P
      pigment { rgb <0.92, 0.84, 0.66> } finish { diffuse 0.75 specular 0.6 roughness 0.01 } }
  #end
  sphere { P, 0.035 scale 1 pigment { rgb <0.85, 0.52, 0.10> } finish { specular 0.6 roughness 0.01 } }
#end
#declare Mortar = pigment { rgb <0.52, 0.49, 0.43> }
#macro Face()
  #for (J, 0, 11)
    #for (I, 0, 3)
      #local C = <0.06, 0.22, 0.18>;
      #if (J = 8 | J = 3) #local C = <0.72, 0.55, 0.20>; #end
      #if (mod(I + J, 5) = 0) #local C = <0.10, 0.34, 0.36>; #end
      Tile(<-0.36 + I*0.24, 0.42 + J*0.22, -0.49>, 0.24, 0.22, C)
    #end
  #end
  Lily(<0, 1.64, -0.515>) Lily(<-0.22, 0.98, -0.515>) Lily(<0.22, 0.98, -0.515>)
#end
#macro Pillar(X)
  union {
    box { <-0.48, 0, -0.48>, <0.48, 3.05, 0.48> pigment { Mortar } }
    Face() union { Face() rotate y*90 } union { Face() rotate -y*90 }
    box { <-0.60, -0.1, -0.60>, <0.60, 0.30, 0.60> pigment { granite scale 0.3 color_map { [0 rgb <0.50, 0.46, 0.40>] [1 rgb <0.36, 0.33, 0.29>] } } normal { granite 0.3 scale 0.1 } }
    superellipsoid { <0.15, 0.3> scale <0.66, 0.13, 0.66> translate y*3.16 pigment { granite scale 0.3 color_map { [0 rgb <0.60, 0.55, 0.47>] [1 rgb <0.42, 0.38, 0.33>] } } normal { granite 0.3 scale 0.1 } }
    cone { y*3.25, 0.22, y*3.45, 0.12 pigment { rgb <0.5, 0.46, 0.4> } }
    sphere { y*3.72, 0.30 pigment { rgb <0.93, 0.88, 0.74> } finish { ambient 0 diffuse 0.7 specular 0.6 roughness 0.01 reflection { 0.05, 0.4 fresnel on } } interior { ior 1.5 } }
    torus { 0.16, 0.04 translate y*3.46 pigment { rgb <0.12, 0.13, 0.12> } }
    translate <X, 0, 0> }
#end
Pillar(-2.15) Pillar(2.15)
// walls on both sides, rendered and stained
#macro Wall(S)
  box { <2.6, 0, -0.22>, <14, 1.75, 0.22>
    pigment { granite scale 1.2 turbulence 0.3 color_map { [0 rgb <0.70, 0.62, 0.48>] [0.6 rgb <0.60, 0.52, 0.40>] [1 rgb <0.42, 0.37, 0.29>] } }
    normal { granite 0.35 scale 0.12 } scale <S, 1, 1> }
  box { <2.6, 1.75, -0.32>, <14, 1.92, 0.32> pigment { granite scale 0.4 color_map { [0 rgb <0.50, 0.46, 0.40>] [1 rgb <0.36, 0.33, 0.29>] } } scale <S, 1, 1> }
#end
Wall(1) Wall(-1)

// --- the gate: whip-lash lines in iron ---------------------------------------
#declare Iron = texture { pigment { rgb <0.055, 0.085, 0.075> } normal { bumps 0.15 scale 0.02 } finish { diffuse 0.7 specular 0.45 roughness 0.03 reflection { 0.01, 0.15 } } }
#macro Whip(X0, Y0, X1, Y1, B, W)
  sphere_sweep { b_spline 7,
    <X0, Y0 - 0.3, 0>, W*1.2, <X0, Y0, 0>, W*1.2, <X0 + B, Y0 + (Y1 - Y0)*0.35, 0>, W, <X1 - B*1.4, Y0 + (Y1 - Y0)*0.8, 0>, W*0.9,
    <X1, Y1, 0>, W*0.8, <X1 + B*0.8, Y1 - 0.16, 0>, W*0.7, <X1 + B*0.4, Y1 - 0.34, 0>, W*0.5 }
#end
#macro Leaf()
  union {
    box { <0.02, 0.02, -0.03>, <1.58, 0.10, 0.03> }
    box { <0.02, 0.05, -0.03>, <0.09, 2.55, 0.03> }
    box { <1.51, 0.05, -0.03>, <1.58, 2.15, 0.03> }
    box { <0.05, 1.02, -0.025>, <1.55, 1.07, 0.025> }
    sphere_sweep { b_spline 6, <0.0, 2.2, 0>, 0.035, <0.04, 2.55, 0>, 0.035, <0.35, 2.95, 0>, 0.035, <0.95, 2.55, 0>, 0.035, <1.54, 2.15, 0>, 0.035, <1.8, 1.9, 0>, 0.035 }
    #for (I, 1, 9) cylinder { <0.05 + I*0.15, 0.1, 0>, <0.05 + I*0.15, 1.02, 0>, 0.014 } #end
    Whip(0.25, 1.05, 0.55, 2.45, 0.22, 0.022)
    Whip(0.55, 1.05, 0.80, 2.15, -0.20, 0.020)
    Whip(0.80, 1.05, 1.15, 2.20, 0.20, 0.022)
    Whip(1.10, 1.05, 1.32, 1.95, -0.18, 0.020)
    Whip(1.38, 1.05, 1.25, 1.65, 0.12, 0.018)
    Whip(0.15, 0.10, 0.55, 0.92, 0.16, 0.016)
    Whip(1.40, 0.10, 1.00, 0.92, -0.16, 0.016)
    sphere { <0.80, 1.80, 0>, 0.055 texture { pigment { rgb <0.78, 0.55, 0.16> } finish { metallic specular 0.9 roughness 0.03 reflection 0.2 } } }
    sphere { <0.45, 2.15, 0>, 0.045 texture { pigment { rgb <0.78, 0.55, 0.16> } finish { metallic specular 0.9 roughness 0.03 reflection 0.2 } } }
    texture { Iron } }
#end
union { Leaf() scale <-1, 1, 1> translate <1.62, 0.02, 0> }
union { Leaf() rotate y*-34 translate <-1.62, 0.02, 0> }

// --- garden behind -------------------------------------------------------------
#declare CrownA = Crown_Mesh(21, 46, 260, 0.030)
#declare CrownB = Crown_Mesh(22, 52, 240, 0.034)
#macro Tree(P, W, H, C)
  object { #if (rand(R) < 0.5) CrownA #else CrownB #end rotate y*360*rand(R) scale <W, H, W> translate P + y*H*0.6 texture { pigment { rgb C*(0.8 + 0.4*rand(R)) } finish { diffuse 0.85 specular 0.08 } } }
  cylinder { P, P + y*H*0.5, W*0.03 pigment { rgb <0.17, 0.13, 0.10> } normal { bumps 0.6 scale <0.1, 0.4, 0.1> } }
#end
#for (I, 0, 7)
  Tree(<-3.6 - 0.4*rand(R), 0, 4.5 + I*4.2>, 3.2, 5.4, <0.15, 0.26, 0.06>)
  Tree(<3.6 + 0.4*rand(R), 0, 4.5 + I*4.2>, 3.2, 5.4, <0.17, 0.26, 0.06>)
#end
#for (I, -10, 10) Tree(<I*3.1 + rand(R), 0, 40 + 6*rand(R)>, 7, 8 + 4*rand(R), <0.20, 0.26, 0.08>) #end
Tree(<-9, 0, 8>, 6, 9, <0.34, 0.20, 0.05>) Tree(<8.5, 0, 10>, 6, 9, <0.14, 0.24, 0.06>) Tree(<-6.5, 0, 3>, 2.4, 3.4, <0.13, 0.22, 0.07>)
#for (I, 0, 9)
  #for (S, -1, 1, 2)
    object { CrownB rotate y*360*rand(R) scale <1.3, 0.8, 1.3> translate <S*2.6, 0.3, 2.5 + I*1.5> pigment { rgb <0.09, 0.19, 0.05> } finish { diffuse 0.85 } }
    #for (K, 1, 26) #local Q = <S*(2.15 + 0.7*rand(R)), 0.35 + 0.35*rand(R), 2.0 + I*1.5 + rand(R)>;
      sphere { Q, 0.035 + 0.03*rand(R) pigment { rgb #if (mod(I, 3) = 0) <0.75, 0.16, 0.22> #else #if (mod(I, 3) = 1) <0.90, 0.80, 0.72> #else <0.55, 0.35, 0.66> #end #end * (0.7 + 0.4*rand(R)) } } #end
  #end
#end
// a rose over the right pillar
#for (K, 1, 60)
  object { CrownA rotate <360*rand(R), 360*rand(R), 0> scale 0.34 + 0.3*rand(R) translate <2.75 + 0.55*rand(R)*rand(R)*2, 0.2 + 2.3*rand(R), -0.25 + 0.35*rand(R)> pigment { rgb <0.10 + 0.06*rand(R), 0.22, 0.06> } finish { diffuse 0.85 specular 0.1 } }
#end
#for (K, 1, 46)
  #local Q = <2.72 + 0.75*rand(R), 0.5 + 2.1*rand(R), -0.42 - 0.12*rand(R)>;
  #for (I, 0, 7) sphere { 0, 1 scale <0.034, 0.012, 0.045> translate z*0.03 rotate <-40*rand(R), I*45, 0> rotate -x*70 translate Q pigment { rgb <0.85, 0.34, 0.36>*(0.8 + 0.3*rand(R)) } } #end
#end
// fountain at the end of the walk
union { cylinder { <0, 0, 22>, <0, 0.6, 22>, 1.5 } cone { <0, 0.6, 22>, 0.2, <0, 1.8, 22>, 0.14 } cone { <0, 1.8, 22>, 0.2, <0, 2.05, 22>, 0.8 }
  pigment { granite scale 0.3 color_map { [0 rgb <0.62, 0.58, 0.50>] [1 rgb <0.46, 0.42, 0.36>] } } }
