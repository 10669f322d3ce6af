%
(Collar with faults in it, for a tube of 42 mm)
(Run it on the rain gauge to see what is found)
G21 G90 G17 G94
G0 Z46
G0 X12 A-30
(1: fed in while the spindle stands)
G1 Z20.6 F100
X20 F400
M3 S18000
X26
(2: rapid while the tip is in the work)
G0 X34
G0 Z46
G0 X14 A40
(3: plunges at cutting feed)
G1 Z20.5 F900
X30 A70 F400
G0 Z46
G0 X20 A100
(4: deeper than the wall is thick)
G1 Z16.4 F120
X24
G0 Z46
G0 X44 A150
G1 Z20.7 F120
(5: turns faster than the rotary can)
G93 A420 F320
G94
G0 Z46
(6: cuts the same line again)
G0 X14 A40
G1 Z20.5 F120
X30 A70 F40
G0 Z46
G0 X14 A40
G1 Z20.5 F120
X30 A70 F40
G0 Z46
(7: leaves the rotary wound up)
G0 A1600
M5
M2
%
