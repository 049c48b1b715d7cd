// SPDX-License-Identifier: Apache-2.0
// The potting bench of the Palmarium Ostermoor: clay pots, oranges and a watering can in window light.
#version 3.7;
#include "plants.inc"
#include "woods.inc"
global_settings {
  assumed_gamma 1.0
  max_trace_level 6
  radiosity { pretrace_start 0.08 pretrace_end 0.02 count 80 nearest_count 8 error_bound 0.7 recursion_limit 2 brightness 1.1 }
}
camera {
  location <0.3, 2.35, -7.2> look_at <-0.05, 1.08, 0> right x*image_width/image_height angle 46
  aperture 0.09 focal_point <0, 0.9, -0.6> blur_samples 18 variance 1/4000 confidence 0.9
}
#declare R = seed(77);
// A tall window at the left, out of the picture, and its bars' shadow on the wall.
light_source { <-9, 6.5, -5.2> rgb <1.0, 0.93, 0.80>*2.3 area_light <0, 2.2, 0>, <1.1, 0, -1.6>, 7, 7 adaptive 1 jitter }
light_source { <7, 5, -9> rgb <0.30, 0.38, 0.50>*0.35 area_light x*4, y*4, 3, 3 adaptive 1 jitter shadowless }
#for (I, 0, 3) box { <-5.4, 0.5 + I*1.35, -6.6>, <-5.34, 0.62 + I*1.35, -0.6> } #end
#for (I, 0, 4) box { <-5.4, 0, -6.0 + I*1.25>, <-5.34, 6, -5.92 + I*1.25> } #end

// --- wall: flaking lime wash over brick ---------------------------------------
#declare Brick = texture {
  pigment { brick pigment { rgb <0.50, 0.46, 0.40> } pigment { granite scale 1.7 color_map { [0 rgb <0.44, 0.20, 0.12>] [0.6 rgb <0.56, 0.28, 0.17>] [1 rgb <0.30, 0.15, 0.11>] } } brick_size <0.92, 0.27, 0.5> mortar 0.03 }
  normal { average normal_map { [1 brick 0.6 brick_size <0.92, 0.27, 0.5> mortar 0.03] [1 granite 0.4 scale 0.4] } } finish { diffuse 0.75 } }
#declare Lime = texture {
  pigment { bozo turbulence 0.8 octaves 6 scale 1.5 color_map { [0 rgb <0.66, 0.66, 0.56>] [0.5 rgb <0.56, 0.60, 0.53>] [1 rgb <0.44, 0.50, 0.46>] } }
  normal { average normal_map { [1 granite 0.30 scale 0.9] [1 bumps 0.25 scale 0.09] } } finish { diffuse 0.8 } }
plane { -z, -2.2
  texture { bozo turbulence 0.9 octaves 7 lambda 2.3 omega 0.62 scale <1.5, 1.1, 1> translate <0.72, 0.35, 0> texture_map { [0 Lime] [0.655 Lime] [0.662 Lime pigment { rgb <0.74, 0.72, 0.63> }] [0.672 Brick] [1 Brick] } } }
// --- bench -------------------------------------------------------------------
#for (I, 0, 4)
  box { <-6, -0.16, 0>, <6, 0, 0.83> translate <0, -0.012*rand(R), -2.6 + I*0.86>
    texture { pigment { wood turbulence 0.07 octaves 5 scale 0.11 rotate <2 + rand(R), 88 + 3*rand(R), 0> translate <7*rand(R), 3*rand(R), I>
        color_map { [0 rgb <0.36, 0.24, 0.14>*(0.85 + 0.3*rand(R))] [0.45 rgb <0.30, 0.19, 0.11>] [0.8 rgb <0.23, 0.14, 0.08>] [1 rgb <0.33, 0.22, 0.13>] } }
      normal { average normal_map { [1 wood 0.4 turbulence 0.07 octaves 5 scale 0.11 rotate y*90] [1 granite 0.25 scale <0.9, 0.1, 0.05>] [0.6 bumps 0.2 scale 0.3] } }
      finish { diffuse 0.75 specular 0.22 roughness 0.03 } } }
#end
// --- things ------------------------------------------------------------------
#macro Clay(C) texture {
  pigment { bozo turbulence 0.7 octaves 6 scale 0.5 translate 9*rand(R) color_map { [0 rgb C] [0.5 rgb C*<0.86, 0.82, 0.8>] [0.72 rgb C*1.05] [0.82 rgb <0.66, 0.58, 0.48>] [1 rgb C*0.6] } }
  normal { average normal_map { [1 gradient y 0.12 scale 0.05] [1 granite 0.18 scale 0.4] } } finish { diffuse 0.82 specular 0.05 roughness 0.1 } } #end
#macro Pot(S, C) difference {
    union { cone { 0, 0.36*S, y*0.78*S, 0.50*S } cylinder { y*0.72*S, y*0.96*S, 0.56*S } torus { 0.54*S, 0.022*S translate y*0.96*S } torus { 0.555*S, 0.012*S translate y*0.73*S } }
    cone { y*0.06*S, 0.32*S, y*1.2*S, 0.50*S }
    Clay(C) } #end
#macro Soil(S) height_field { function 120, 120 { pattern { granite scale 0.3 } } smooth translate <-0.5, 0, -0.5> scale <0.96*S, 0.09, 0.96*S> pigment { rgb <0.055, 0.036, 0.024> } clipped_by { cylinder { -y, y, 0.49*S } } } #end
#declare Terra = <0.58, 0.24, 0.12>;
#declare Bush = Crown_Mesh(31, 22, 60, 0.13)
#declare Fern = Palm_Mesh(36, 26)

// the big pot with a leafy plant
union { object { Pot(1.35, Terra) } object { Soil(1.35) translate y*1.14 } rotate y*20 translate <-1.55, 0, 0.25> }
object { Bush scale <1.75, 1.5, 1.6> translate <-1.55, 2.05, 0.25> texture { pigment { bozo scale 0.3 color_map { [0 rgb <0.10, 0.25, 0.06>] [1 rgb <0.22, 0.38, 0.09>] } } finish { diffuse 0.85 specular 0.35 roughness 0.04 } } }
#for (I, 0, 7) cylinder { <-1.55, 1.15, 0.25>, <-1.55 + (rand(R) - 0.5)*0.9, 1.9, 0.25 + (rand(R) - 0.5)*0.9>, 0.018 pigment { rgb <0.20, 0.24, 0.08> } } #end
// a fern in a small pot
union { object { Pot(0.86, Terra*<0.95, 1.12, 1.1>) } object { Soil(0.86) translate y*0.72 } translate <2.75, 0, 0.75> }
object { Fern scale <0.95, 0.85, 0.95> translate <2.75, 0.78, 0.75> texture { pigment { rgb <0.19, 0.38, 0.09> } finish { diffuse 0.85 specular 0.25 roughness 0.05 } } }
// a stack of pots, and one on its side
#for (I, 0, 3) object { Pot(0.80, Terra*(0.85 + 0.3*rand(R))) rotate <(rand(R) - 0.5)*3, 360*rand(R), (rand(R) - 0.5)*3> translate <-2.95, I*0.30, -0.35> } #end
object { Pot(0.74, Terra*1.08) rotate <0, 0, -97> rotate y*-38 translate <1.30, 0.41, -1.55> }
// oranges
#macro Orange(P, S) union {
    sphere { 0, 0.27 scale <1, 0.95, 1> pigment { bozo scale 0.2 color_map { [0 rgb <0.82, 0.25, 0.02>] [1 rgb <0.86, 0.31, 0.03>] } } normal { average normal_map { [1 crackle 0.22 form <1, 0, 0> scale 0.022] [0.5 bumps 0.2 scale 0.1] } } finish { diffuse 0.82 specular 0.30 roughness 0.025 } }
    cylinder { y*0.24, y*0.268, 0.028 pigment { rgb <0.30, 0.32, 0.10> } }
    rotate <60*(rand(R) - 0.5), 360*rand(R), 90*(rand(R) - 0.5)> scale S translate P } #end
Orange(<-0.42, 0.26, -0.95>, 1.0) Orange(<0.10, 0.25, -1.28>, 0.97) Orange(<-0.10, 0.27, -0.58>, 1.03) Orange(<-0.88, 0.25, -1.42>, 0.96) Orange(<2.28, 0.25, -1.12>, 0.95) Orange(<-0.17, 0.66, -0.92>, 0.94)
mesh { #for (K, 0, 4) Leaf_Triangles(<-0.88, 0.49, -1.42>, vnormalize(<cos(K*2.3), 0.35, sin(K*2.3)>), <-sin(K*2.3), 0, cos(K*2.3)>, 0.34, 0.075) #end pigment { rgb <0.10, 0.24, 0.06> } finish { specular 0.4 roughness 0.03 } }
// watering can: zinc
#declare Zinc = texture { pigment { granite scale 0.7 color_map { [0 rgb <0.46, 0.48, 0.48>] [0.5 rgb <0.36, 0.39, 0.40>] [1 rgb <0.54, 0.55, 0.53>] } } normal { average normal_map { [1 bumps 0.09 scale 0.3] [1 granite 0.07 scale 0.2] } } finish { diffuse 0.55 specular 0.5 roughness 0.03 metallic reflection { 0.09 metallic } } }
union {
  cone { 0, 0.62, y*1.05, 0.54 } torus { 0.62, 0.03 translate y*0.03 } torus { 0.56, 0.025 translate y*0.75 } torus { 0.54, 0.03 translate y*1.05 }
  intersection { sphere { 0, 0.54 scale <1, 0.5, 1> translate y*1.05 } plane { x, 0.12 } plane { -y, -1.05 } }
  cone { <0.50, 0.25, 0>, 0.12, <1.38, 1.32, 0>, 0.055 } cone { <1.34, 1.27, 0>, 0.06, <1.53, 1.50, 0>, 0.20 }
  cylinder { <0.48, 0.95, 0>, <1.12, 1.0, 0>, 0.018 }
  intersection { torus { 0.52, 0.04 rotate x*90 } plane { x, 0.0 rotate z*-12 } translate <-0.50, 0.66, 0> }
  intersection { torus { 0.40, 0.035 rotate x*90 } plane { -y, 0 } translate <0.02, 1.08, 0> }
  texture { Zinc } rotate y*-14 translate <0.95, 0, 0.35> }
// twine, a trowel and some spilled soil
#for (I, 0, 160) sphere { <0.55 + 0.6*(rand(R) - 0.5)*rand(R)*3, 0.004, -1.95 + 0.5*(rand(R) - 0.5)*rand(R)*2>, 0.008 + 0.028*pow(rand(R), 3) scale <1, 0.6, 1> pigment { rgb <0.07, 0.045, 0.03>*(0.6 + 0.8*rand(R)) } normal { granite 0.9 scale 0.1 } } #end
union {
  cylinder { <-0.62, 0.07, 0>, <0.0, 0.07, 0>, 0.062 pigment { rgb <0.42, 0.12, 0.07> } finish { specular 0.5 roughness 0.02 } }
  cylinder { <0.0, 0.07, 0>, <0.26, 0.05, 0>, 0.025 texture { Zinc } }
  difference { sphere { 0, 1 scale <0.42, 0.10, 0.17> translate <0.62, 0.06, 0> } sphere { 0, 1 scale <0.42, 0.10, 0.16> translate <0.62, 0.085, 0> } texture { Zinc } }
  rotate y*24 translate <-2.35, 0.0, -1.75> }
#for (I, 0, 5) torus { 0.19 - 0.012*I, 0.026 translate <2.05, 0.03 + 0.042*I, -0.25> pigment { gradient x frequency 25 color_map { [0 rgb <0.64, 0.52, 0.34>] [1 rgb <0.42, 0.33, 0.20>] } } normal { gradient x 0.8 frequency 25 } } #end
