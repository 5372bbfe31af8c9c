"""The matting network: a small U-Net that corrects an alpha solved by colours."""
import torch
from torch import nn
import torch.nn.functional as F

WIDTHS = (16, 32, 48, 64)
SLOPE = .1   # of the leaky rectifiers


class Layer(nn.Module):
    def __init__(self, i, o):
        super().__init__()
        self.conv = nn.Conv2d(i, o, 3, padding=1, bias=False)
        self.norm = nn.BatchNorm2d(o, momentum=.05)
        nn.init.kaiming_normal_(self.conv.weight, a=SLOPE)

    def forward(self, x):
        return F.leaky_relu(self.norm(self.conv(x)), SLOPE)


class Matting(nn.Module):
    """input: red, green, blue 0..1, surely subject, surely background, solved alpha, how sure single colours are of it. Gives alpha,
    not kept within 0 and 1."""

    def __init__(self, inputs=7):
        super().__init__()
        a, b, c, d = WIDTHS
        self.in1, self.in2 = Layer(inputs, a), Layer(a, a)
        self.b1, self.b2 = Layer(a, b), Layer(b, b)
        self.c1, self.c2 = Layer(b, c), Layer(c, c)
        self.d1, self.d2 = Layer(c, d), Layer(d, d)
        self.uc, self.ub, self.ua = Layer(d + c, c), Layer(c + b, b), Layer(b + a, a)
        self.out = nn.Conv2d(a, 1, 3, padding=1)
        nn.init.constant_(self.out.bias, .5)

    def forward(self, x):
        half, up = (lambda v: F.max_pool2d(v, 2)), (lambda v: F.interpolate(v, scale_factor=2, mode='nearest'))
        a = self.in2(self.in1(x))
        b = self.b2(self.b1(half(a)))
        c = self.c2(self.c1(half(b)))
        d = self.d2(self.d1(half(c)))
        c = self.uc(torch.cat([up(d), c], 1))
        b = self.ub(torch.cat([up(c), b], 1))
        a = self.ua(torch.cat([up(b), a], 1))
        return self.out(a)
