// SPDX-License-Identifier: Apache-2.0
// The palm house of the Palmarium Ostermoor across the lily pond. Declare=View=N chooses the hour and the place:
// 0 late afternoon, 1 amber dusk, 2 silver rain, 3 noon, 4 the lilies from above on a bright grey day, 5 the clip:
// Declare=Time=0..1 is the moment, Declare=Pass=0 the picture, 1 and 2 the same in black and in white fog (their
// difference gives each pixel's distance), 3 as 2 without what moves by itself.
#version 3.7;
#ifndef (View) #declare View = 0; #end
#ifndef (Time) #declare Time = 0; #end
#ifndef (Pass) #declare Pass = 0; #end
#include "plants.inc"
global_settings {
  assumed_gamma 1.0
  // In the passes that measure distance only the first surface counts.
  max_trace_level #if (Pass > 0) 1 #else 9 #end
  // Radiosity flickers from frame to frame; the clip does with a plain fill.
  #if (View = 5) ambient_light rgb <2.6, 2.9, 3.3> #else
  radiosity { pretrace_start 0.08 pretrace_end 0.02 count 60 nearest_count 6 error_bound 0.9 recursion_limit 1 brightness 0.9 }
  #end
}
// The clip's camera glides along its own right-hand side, so that all that stands still moves along the rows.
#declare ClipAim = vnormalize(<0.05, 0.012, 1>);
#declare ClipEye = <-3.4, 1.75, -13> + vnormalize(vcross(y, ClipAim))*2.3*Time;
#declare Eye = array[6] { <-3.2, 2.3, -15>, <7.5, 1.9, -6>, <-9.5, 2.6, 4>, <3.0, 2.6, -4>, <0.5, 2.2, -10.5>, ClipEye }
#declare Aim = array[6] { <0.6, 3.9, 20>, <-1.5, 3.6, 26>, <5, 3.2, 24>, <-1.2, 4.3, 24>, <0.9, 0, -4.0>, ClipEye + ClipAim }
camera {
  location Eye[View] look_at Aim[View] right x*image_width/image_height angle 52
}
#declare R = seed(41);

// In the clip a boat crosses and a fish rises: where they are, how far the fish is out, how old its ring is.
#declare BoatAt = <-6.4 + 6.4*Time, 0, -3.7>;
#declare FishX = -0.7;
#declare FishZ = -5.2;
#declare FishAt = <FishX, 0, FishZ>;
#declare Rise = max(0, 1 - pow((Time - 0.5)/0.17, 2));
#declare Ring = max(0, min(1, (Time - 0.42)/0.55));

// Sun: where it stands, its colour, how soft. Sky: horizon, low, middle and top. Clouds: how much of the sky.
#declare SunAt = array[6] { <-140, 95, -60>, <-150, 26, 70>, <40, 120, -30>, <70, 170, -60>, <-60, 130, -40>, <-140, 95, -60> }
#declare SunColour = array[6] { <1.55, 1.32, 1.0>*1.5, <1.75, 0.86, 0.30>*1.9, <0.72, 0.80, 0.90>*0.75, <1.45, 1.38, 1.22>*1.95, <1.05, 1.06, 1.10>*0.95, <1.55, 1.32, 1.0>*1.5 }
#declare SunSize = array[6] { 9, 9, 110, 6, 90, 9 }
#declare Sky0 = array[6] { <0.88, 0.80, 0.68>, <1.00, 0.56, 0.22>, <0.62, 0.66, 0.70>, <0.70, 0.82, 0.92>, <0.84, 0.85, 0.86>, <0.88, 0.80, 0.68> }
#declare Sky1 = array[6] { <0.72, 0.78, 0.82>, <0.92, 0.50, 0.26>, <0.50, 0.55, 0.60>, <0.44, 0.66, 0.90>, <0.76, 0.78, 0.80>, <0.72, 0.78, 0.82> }
#declare Sky2 = array[6] { <0.30, 0.48, 0.72>, <0.56, 0.40, 0.40>, <0.38, 0.43, 0.49>, <0.14, 0.36, 0.76>, <0.62, 0.66, 0.70>, <0.30, 0.48, 0.72> }
#declare Sky3 = array[6] { <0.14, 0.28, 0.55>, <0.26, 0.25, 0.38>, <0.27, 0.32, 0.38>, <0.06, 0.20, 0.58>, <0.48, 0.53, 0.58>, <0.14, 0.28, 0.55> }
#declare Cloud = array[6] { <1, 0.98, 0.95>, <1.0, 0.66, 0.40>, <0.72, 0.75, 0.78>, <1, 1, 1>, <0.92, 0.93, 0.94>, <1, 0.98, 0.95> }
#declare Cover = array[6] { 0.6, 0.6, 1.0, 0.42, 0.9, 0.6 }
#if (Pass = 0) light_source { SunAt[View] rgb SunColour[View] area_light x*SunSize[View], z*SunSize[View], 3, 3 adaptive 1 jitter circular orient } #end
sky_sphere {
  pigment { gradient y color_map { [0 rgb Sky0[View]] [0.12 rgb Sky1[View]] [0.45 rgb Sky2[View]] [1 rgb Sky3[View]] } }
  pigment { wrinkles turbulence 0.55 octaves 7 lambda 2.3 scale <0.9, 0.20, 0.9> translate <2.3, 0.1, 0>
    color_map { [0 rgb Cloud[View] transmit 0.05] [0.35*Cover[View]/0.6 rgb Cloud[View]*0.95 transmit 0.45] [Cover[View] rgbt <1, 1, 1, 1>] [1 rgbt 1] } }
}
// Rain hangs in the air, and dusk has its haze.
#if (View = 2) fog { fog_type 2 distance 110 fog_offset 4 fog_alt 5 rgb <0.48, 0.53, 0.58> } #end
#if (View = 1) fog { fog_type 2 distance 120 fog_offset 1 fog_alt 2.5 rgb <0.86, 0.48, 0.22> } #end

#if (Pass = 1) fog { fog_type 1 distance 20 rgb 0 } #end
#if (Pass > 1) fog { fog_type 1 distance 20 rgb 1 } #end

// --- water -----------------------------------------------------------------
plane { y, 0
  pigment { rgb <0.018, 0.030, 0.024> }
  normal { average normal_map {
      [1.0 bumps 0.045 scale <0.9, 1, 0.28> turbulence 0.4 translate <0.3*Time, 1.6*Time, 0>]
      #if (View = 2) [1.2 bumps 0.10 scale 0.09] #end
      [0.7 wrinkles 0.03 scale <3.4, 1, 1.2>]
      #if (View = 5 & Ring > 0)
        [1.6 function { exp(-pow((sqrt(pow(x - FishX, 2) + pow(z - FishZ, 2)) - 1.9*Ring)/0.35, 2))*sin(17*sqrt(pow(x - FishX, 2) + pow(z - FishZ, 2)) - 40*Ring) } 0.10*(1 - Ring)]
      #end } }
  finish { diffuse 0.5 specular 0.5 roughness 0.004 reflection { 0.05, 0.92 fresnel on } conserve_energy }
  interior { ior 1.33 } hollow }

// --- banks -----------------------------------------------------------------
#declare Stone = texture {
  pigment { granite scale 0.6 color_map { [0 rgb <0.42, 0.38, 0.32>] [0.5 rgb <0.56, 0.52, 0.45>] [1 rgb <0.30, 0.28, 0.24>] } }
  normal { granite 0.35 scale 0.3 } finish { diffuse 0.75 } }
#for (I, -26, 26)
  box { <0, -0.4, 0>, <0.96 + 0.05*rand(R), 0.30 + 0.06*rand(R), 0.8>
    texture { Stone translate <I*7.3, I, I*3> } rotate y*(rand(R) - 0.5)*3 translate <I*1.02, 0, 16 + (rand(R) - 0.5)*0.08> }
#end
height_field { function 300, 300 { pattern { bozo turbulence 0.4 scale 0.12 } } smooth
  translate <-0.5, 0, 0> scale <120, 0.5, 60> translate <0, 0.10, 16.7>
  pigment { bozo scale 1.4 turbulence 0.7 color_map { [0 rgb <0.12, 0.19, 0.035>] [0.5 rgb <0.20, 0.27, 0.06>] [1 rgb <0.27, 0.28, 0.10>] } }
  normal { bumps 0.8 scale 0.06 } finish { diffuse 0.8 } }
box { <-3.4, 0, 16.8>, <3.0, 0.36, 26>
  pigment { granite scale 0.25 color_map { [0 rgb <0.66, 0.58, 0.45>] [1 rgb <0.44, 0.37, 0.28>] } } normal { granite 0.5 scale 0.06 } }

#declare Turf = Grass_Mesh(5, 4200, 2, 0.34, 0.012)
#for (I, -13, 13) #for (J, 0, 3)
  object { Turf rotate y*90*int(4*rand(R)) scale <1, 0.7 + 0.7*rand(R), 1> translate <I*1.9, 0.32, 17.6 + J*1.9>
    texture { pigment { rgb <0.17 + 0.10*rand(R), 0.28 + 0.08*rand(R), 0.06> } finish { diffuse 0.9 } } }
#end #end

// --- the glasshouse --------------------------------------------------------
#declare Iron = texture { pigment { rgb <0.80, 0.83, 0.78> } normal { bumps 0.08 scale 0.05 } finish { diffuse 0.72 specular 0.25 roughness 0.03 } }
#declare Pane = texture { pigment { rgbf <0.86, 0.95, 0.92, 0.86> } normal { bumps 0.018 scale 0.9 } finish { diffuse 0.12 specular 0.7 roughness 0.003 reflection { 0.09, 0.75 fresnel on } } }
// A barrel vault of radius Rad on walls of height Wall, along x from X0 to X1.
#macro Vault(X0, X1, Rad, Wall, Bays)
  #for (B, 0, Bays)
    #local X = X0 + (X1 - X0)*B/Bays;
    intersection { torus { Rad, 0.07 rotate x*90 rotate y*90 } plane { -y, 0 } bounded_by { sphere { 0, Rad + 0.1 } } translate <X, Wall, 0> texture { Iron } }
    cylinder { <X, 0, -Rad>, <X, Wall, -Rad>, 0.10 texture { Iron } }
    sphere { <X, Wall, -Rad>, 0.17 texture { Iron } }
  #end
  #for (B, 0, Bays*3)
    #local X = X0 + (X1 - X0)*B/(Bays*3);
    intersection { torus { Rad, 0.025 rotate x*90 rotate y*90 } plane { -y, 0 } bounded_by { sphere { 0, Rad + 0.1 } } translate <X, Wall, 0> texture { Iron } }
    cylinder { <X, 0.7, -Rad>, <X, Wall, -Rad>, 0.028 texture { Iron } }
  #end
  #for (K, 0, 9)
    #local A = pi*K/9;
    cylinder { <X0, Wall + Rad*sin(A), -Rad*cos(A)>, <X1, Wall + Rad*sin(A), -Rad*cos(A)>, #if (mod(K, 3) = 0) 0.07 #else 0.03 #end texture { Iron } }
  #end
  #for (K, 1, 3) cylinder { <X0, 0.7 + (Wall - 0.7)*K/3, -Rad>, <X1, 0.7 + (Wall - 0.7)*K/3, -Rad>, 0.035 texture { Iron } } #end
  intersection { cylinder { <X0, Wall, 0>, <X1, Wall, 0>, Rad } cylinder { <X0 - 1, Wall, 0>, <X1 + 1, Wall, 0>, Rad - 0.02 inverse } plane { -y, -Wall } texture { Pane } }
  box { <X0, 0.7, -Rad>, <X1, Wall, -Rad + 0.02> texture { Pane } }
  box { <X0 - 0.1, -0.2, -Rad - 0.16>, <X1 + 0.1, 0.7, -Rad + 0.2> texture { Stone scale 0.7 } }
#end
#declare House = union {
  Vault(-17, -4.6, 3.6, 3.2, 7)
  Vault(4.6, 17, 3.6, 3.2, 7)
  // central pavilion: drum, dome and lantern
  #for (K, 0, 19)
    #local A = 2*pi*K/20;
    #local P = <cos(A)*4.8, 0, sin(A)*4.8>;
    cylinder { P, P + y*5.4, 0.13 texture { Iron } }
    sphere { P + y*5.4, 0.24 texture { Iron } }
    cylinder { P*1.01 + y*3.4, <cos(A + pi/10)*4.85, 3.4, sin(A + pi/10)*4.85>, 0.05 texture { Iron } }
    torus { 0.60, 0.035 rotate x*90 rotate y*(90 - degrees(A + pi/20)) translate <cos(A + pi/20), 0, sin(A + pi/20)>*4.75 + y*4.35 texture { Iron } }
    #for (M, 0, 2)
      #local A3 = A + pi/10*M/3;
      intersection { torus { 4.8, #if (M = 0) 0.09 #else 0.03 #end rotate x*90 } plane { -y, 0 } plane { -x, 0 } rotate y*-degrees(A3) scale <1, 0.88, 1> translate y*5.5 texture { Iron } }
      cylinder { <cos(A3)*4.8, 0.7, sin(A3)*4.8>, <cos(A3)*4.8, 5.4, sin(A3)*4.8>, 0.03 texture { Iron } }
    #end
  #end
  #for (K, 0, 5) torus { 4.8*cos(K*pi/13), #if (K = 0) 0.17 #else 0.045 #end translate y*(5.5 + 0.88*4.8*sin(K*pi/13)) texture { Iron } } #end
  torus { 4.8, 0.10 translate y*2.1 texture { Iron } }
  difference { sphere { 0, 4.78 } sphere { 0, 4.76 } plane { y, 0 } scale <1, 0.88, 1> translate y*5.5 texture { Pane } }
  difference { cylinder { y*0.7, y*5.5, 4.78 } cylinder { y*0.5, y*5.7, 4.76 } texture { Pane } }
  cylinder { y*-0.2, y*0.75, 5.0 texture { Stone } }
  cylinder { y*9.6, y*11.0, 0.95 texture { Pane } }
  #for (K, 0, 9) cylinder { <cos(K*pi/5)*0.98, 9.6, sin(K*pi/5)*0.98>, <cos(K*pi/5)*0.98, 11, sin(K*pi/5)*0.98>, 0.05 texture { Iron } } #end
  torus { 1.0, 0.1 translate y*9.6 texture { Iron } } torus { 1.0, 0.1 translate y*11 texture { Iron } }
  cone { y*11, 1.05, y*12.3, 0.05 texture { Iron pigment { rgb <0.30, 0.48, 0.42> } } }
  sphere { y*12.5, 0.22 texture { pigment { rgb <0.95, 0.68, 0.18> } finish { metallic specular 0.9 roughness 0.02 reflection 0.3 } } }
  // doors
  box { <-1.0, 0.2, -5.0>, <1.0, 3.4, -4.7> texture { pigment { rgb <0.05, 0.16, 0.12> } finish { specular 0.4 } } }
  box { <-0.85, 1.2, -5.05>, <-0.08, 3.2, -4.99> texture { Pane } } box { <0.08, 1.2, -5.05>, <0.85, 3.2, -4.99> texture { Pane } }
}
#declare PalmA = Palm_Mesh(3, 17)
#declare PalmB = Palm_Mesh(8, 22)
#macro Palm(P, H, S, Which)
  union {
    #for (I, 0, 16) cone { <sin(I*0.3)*0.05, H*I/17, 0>, 0.20*(1.1 - I*0.03), <sin(I*0.3)*0.05, H*(I + 1.15)/17, 0>, 0.155*(1.1 - I*0.03) pigment { rgb <0.26, 0.17, 0.10>*(0.7 + 0.5*rand(R)) } } #end
    object { #if (Which) PalmA #else PalmB #end scale S translate y*H texture { pigment { rgb <0.16 + 0.1*rand(R), 0.34 + 0.1*rand(R), 0.07> } finish { diffuse 0.85 specular 0.2 roughness 0.06 } } }
    rotate y*360*rand(R) translate P }
#end
union {
  object { House }
  Palm(<-0.8, 0, -0.5>, 6.2, 2.9, 1) Palm(<1.8, 0, 1.2>, 4.4, 2.6, 0) Palm(<-2.4, 0, 1.4>, 3.8, 2.4, 0)
  #for (I, 0, 5) Palm(<-6 - I*2.0, 0, (rand(R) - 0.5)*2>, 1.6 + 1.8*rand(R), 1.7 + 0.6*rand(R), mod(I, 2)) Palm(<6 + I*2.0, 0, (rand(R) - 0.5)*2>, 1.6 + 1.8*rand(R), 1.7 + 0.6*rand(R), mod(I, 2)) #end
  translate <0, 0.45, 29>
}
// two palms in tubs outside, on the terrace
#macro Tub(P) union { cone { 0, 0.5, y*0.9, 0.68 } torus { 0.68, 0.07 translate y*0.9 } translate P texture { pigment { rgb <0.50, 0.21, 0.11> } normal { bumps 0.3 scale 0.08 } } } #end
Tub(<-4.6, 0.35, 19.4>) Tub(<4.3, 0.35, 19.4>)
Palm(<-4.6, 1.1, 19.4>, 1.7, 1.9, 1) Palm(<4.3, 1.1, 19.4>, 1.9, 1.9, 0)

// --- trees, hedges, flower beds ---------------------------------------------
#declare CrownA = Crown_Mesh(11, 46, 260, 0.030)
#declare CrownB = Crown_Mesh(12, 52, 240, 0.034)
#macro Tree(P, W, H, C)
  object { #if (rand(R) < 0.5) CrownA #else CrownB #end rotate y*360*rand(R) scale <W, H, W> translate P + y*H*0.55
    texture { pigment { rgb C*(0.8 + 0.4*rand(R)) } finish { diffuse 0.85 specular 0.08 } } }
  cylinder { P, P + y*H*0.5, W*0.035 pigment { rgb <0.16, 0.12, 0.09> } }
#end
#for (I, -15, 15)
  Tree(<I*3.4 + 2*rand(R), 0, 42 + 10*rand(R)>, 8 + 4*rand(R), 9 + 7*rand(R), <0.16 + 0.16*rand(R), 0.24 + 0.06*rand(R), 0.05>)
#end
Tree(<-16.5, 0, 22>, 8, 11, <0.30, 0.26, 0.06>) Tree(<-21, 0, 20>, 9, 13, <0.15, 0.25, 0.05>)
Tree(<19.5, 0, 23>, 9, 13, <0.14, 0.24, 0.06>) Tree(<16, 0, 20>, 4.5, 6, <0.40, 0.22, 0.05>)
#for (I, -8, 8)
  #if (abs(I) > 1)
    object { CrownB rotate y*360*rand(R) scale <2.4, 1.3, 1.6> translate <I*1.9, 0.8, 23.2> texture { pigment { rgb <0.09, 0.20, 0.05> } finish { diffuse 0.85 } } }
    #for (K, 1, 70)
      #local Q = <I*1.9 + 1.9*(rand(R) - 0.5), 0.55 + 0.3*rand(R), 21.3 + rand(R)>;
      sphere { Q, 0.055 + 0.05*rand(R) pigment { rgb #if (mod(I, 3) = 0) <0.80, 0.12, 0.10> #else #if (mod(I, 3) = 1) <0.88, 0.52, 0.10> #else <0.75, 0.45, 0.66> #end #end * (0.7 + 0.4*rand(R)) } finish { diffuse 0.8 } }
      cylinder { Q - y*0.5, Q, 0.012 pigment { rgb <0.14, 0.26, 0.06> } }
    #end
  #end
#end

// --- lilies and reeds --------------------------------------------------------
#macro Pad(P, S, C)
  difference { cylinder { 0, y*0.012, S } prism { -0.1, 0.1, 4, <0, 0>, <S*1.2, S*0.28>, <S*1.2, -S*0.22>, <0, 0> }
    pigment { onion scale S*0.9 turbulence 0.25 color_map { [0 rgb C*1.25] [0.7 rgb C] [1 rgb C*<1.5, 0.8, 0.5>] } }
    normal { radial 0.25 frequency 18 } finish { diffuse 0.75 specular 0.35 roughness 0.03 reflection { 0.02, 0.25 fresnel on } } interior { ior 1.4 }
    rotate <(rand(R) - 0.5)*5, 360*rand(R), (rand(R) - 0.5)*5> translate P + y*0.018 }
#end
#macro Flower(P, S, C)
  union { #for (K, 0, 2) #for (I, 0, 8 - K*2)
    sphere { 0, 1 scale <0.13, 0.035, 0.42>*S translate z*0.30*S rotate x*(-16 - K*26 + 6*rand(R)) rotate y*(I*360/(9 - K*2) + K*20)
      pigment { gradient z color_map { [0 rgb C*<1, 0.86, 0.9>] [0.7 rgb C] } scale 0.6*S } } #end #end
    sphere { y*0.10*S, 0.10*S pigment { rgb <0.95, 0.68, 0.12> } }
    finish { diffuse 0.85 specular 0.1 } translate P }
#end
#declare Groups = array[9][4] { {-3.7,-8.2,1.9,15}, {1.2,-5.2,2.2,17}, {-7.5,-1.5,2.6,16}, {4.6,-1.0,2.8,20}, {-1.5,3.2,2.6,14}, {8.5,5,3.4,20}, {-9,7,3.4,18}, {1.5,10,3.6,18}, {13,11,3,14} }
#for (G, 0, 8)
  #for (I, 1, Groups[G][3]*2)
    #local A = 2*pi*rand(R); #local D = sqrt(rand(R))*Groups[G][2];
    #local P = <Groups[G][0] + cos(A)*D*1.5, 0.002*I, Groups[G][1] + sin(A)*D>;
    // The boat and the fish have open water.
    #if (View = 5 & P.x < 1.6 & (abs(P.z - BoatAt.z) < 0.85 | vlength(P - FishAt) < 1.0)) #local P = P - y*2; #end
    Pad(P, 0.24 + 0.32*rand(R), <0.14 + 0.14*rand(R), 0.30 + 0.12*rand(R), 0.07>)
  #end
  #for (I, 1, 3)
    #local A = 2*pi*rand(R); #local D = sqrt(rand(R))*Groups[G][2]*0.8;
    Flower(<Groups[G][0] + cos(A)*D*1.5, 0.05, Groups[G][1] + sin(A)*D>, 0.40 + 0.22*rand(R), <0.92, 0.52, 0.62> + <0.03, 0.38, 0.26>*select(rand(R) - 0.6, 1, 0))
  #end
#end
#declare Reeds = Grass_Mesh(9, 150, 1.7, 2.3, 0.014)
object { Reeds translate <-7.4, -0.1, -8.6> pigment { rgb <0.22, 0.30, 0.07> } }
object { Reeds rotate y*90 translate <-9.2, -0.1, -6.4> pigment { rgb <0.26, 0.30, 0.09> } }
object { Reeds scale 0.8 rotate y*180 translate <4.9, -0.1, -8.8> pigment { rgb <0.20, 0.29, 0.07> } }
object { Reeds rotate y*30 translate <14, -0.1, 13.6> pigment { rgb <0.24, 0.31, 0.09> } }
object { Reeds rotate y*130 translate <-13, -0.1, 13.8> pigment { rgb <0.24, 0.31, 0.09> } }

#if (View = 5 & Pass < 3)
  // --- the paper boat: hull of four sheets, the folded sail between them -------
  mesh {
    #macro Sheet(A, B, C) triangle { A, B, C } #end
    #local Bow = <0.95, 0.42, 0>; #local Stern = <-0.95, 0.42, 0>;
    #local KeelA = <0.45, -0.03, 0>; #local KeelB = <-0.45, -0.03, 0>;
    #local Near = <0, 0.30, -0.36>; #local Far = <0, 0.30, 0.36>; #local Mast = <0, 0.92, 0>;
    Sheet(Bow, Near, KeelA) Sheet(KeelA, Near, KeelB) Sheet(KeelB, Near, Stern)
    Sheet(Bow, Far, KeelA) Sheet(KeelA, Far, KeelB) Sheet(KeelB, Far, Stern)
    Sheet(Mast, <0.52, 0.12, -0.05>, <-0.52, 0.12, -0.05>) Sheet(Mast, <0.52, 0.12, 0.05>, <-0.52, 0.12, 0.05>)
    texture {
      pigment { wrinkles scale 0.3 color_map { [0 rgb <0.88, 0.13, 0.07>] [0.8 rgb <0.95, 0.20, 0.10>] [1 rgb <0.70, 0.10, 0.06>] } }
      normal { wrinkles 0.35 scale 0.25 } finish { diffuse 0.9 } }
    scale 0.86 rotate y*-14 translate BoatAt }
  #if (Rise > 0)
    union {
      sphere { 0, 1 scale <0.34, 0.13, 0.11> }
      cone { <-0.27, 0, 0>, 0.06, <-0.52, 0.08, 0.03>, 0.01 }
      triangle { <-0.10, 0.10, 0>, <0.14, 0.11, 0>, <-0.05, 0.20, 0> }
      pigment { bozo scale 0.16 color_map { [0.56 rgb <0.95, 0.34, 0.04>] [0.66 rgb <0.96, 0.88, 0.78>] } }
      finish { diffuse 0.8 specular 0.6 roughness 0.02 }
      rotate z*(14 - 28*(Time - 0.33)/0.34) rotate y*25 translate FishAt + <0.5*(Time - 0.5), -0.17 + 0.16*Rise, 0> }
  #end
#end
