#!/usr/bin/env python3
"""Writes the trained matting network as ONNX that OpenCV 4.6 can run.

  export.py TRAINED.pt OUT.onnx

Norms are folded into the convolutions before them; weights are rounded to half precision, which packs to half the size.
"""
import sys

import numpy as np
import onnx
import torch
from onnx import TensorProto, helper, numpy_helper

from network import SLOPE, Matting

SIDE = 128


class Graph:
    def __init__(self, net):
        self.net, self.nodes, self.constants = net, [], {}

    def constant(self, name, value):
        self.constants[name] = numpy_helper.from_array(np.ascontiguousarray(value, np.float32), name)
        return name

    def add(self, kind, inputs, out, **attributes):
        self.nodes.append(helper.make_node(kind, inputs, [out], **attributes))
        return out

    def convolved(self, x, out, weight, bias):
        rounded = [v.detach().numpy().astype(np.float16).astype(np.float32) for v in (weight, bias)]
        names = [self.constant(out + suffix, v) for suffix, v in zip(('.w', '.b'), rounded)]
        return self.add('Conv', [x, *names], out, kernel_shape=[3, 3], pads=[1] * 4, strides=[1, 1])

    def layer(self, x, name):
        m = getattr(self.net, name)
        scale = m.norm.weight / torch.sqrt(m.norm.running_var + m.norm.eps)
        y = self.convolved(x, name, m.conv.weight * scale[:, None, None, None], m.norm.bias - m.norm.running_mean * scale)
        return self.add('LeakyRelu', [y], name + '.r', alpha=SLOPE)

    def half(self, x):
        return self.add('MaxPool', [x], x + '.half', kernel_shape=[2, 2], strides=[2, 2])

    def joined(self, low, high):
        twice = self.add('Resize', [low, self.constant('roi', []), self.constant('two', [1, 1, 2, 2])], low + '.twice', mode='nearest',
                         coordinate_transformation_mode='asymmetric', nearest_mode='floor')
        return self.add('Concat', [twice, high], twice + '+' + high, axis=1)

    def made(self):
        a = self.layer(self.layer('seen', 'in1'), 'in2')
        b = self.layer(self.layer(self.half(a), 'b1'), 'b2')
        c = self.layer(self.layer(self.half(b), 'c1'), 'c2')
        d = self.layer(self.layer(self.half(c), 'd1'), 'd2')
        c = self.layer(self.joined(d, c), 'uc')
        b = self.layer(self.joined(c, b), 'ub')
        a = self.layer(self.joined(b, a), 'ua')
        self.convolved(a, 'alpha', self.net.out.weight, self.net.out.bias)
        side = [SIDE, SIDE]
        graph = helper.make_graph(self.nodes, 'matting', [helper.make_tensor_value_info('seen', TensorProto.FLOAT, [1, 7, *side])],
                                  [helper.make_tensor_value_info('alpha', TensorProto.FLOAT, [1, 1, *side])], list(self.constants.values()))
        return helper.make_model(graph, opset_imports=[helper.make_opsetid('', 11)], ir_version=6)


net = Matting()
net.load_state_dict(torch.load(sys.argv[1]))
net.eval()
onnx.save(Graph(net).made(), sys.argv[2])
