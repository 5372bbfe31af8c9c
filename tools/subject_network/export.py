#!/usr/bin/env python3
"""Joins the detector's graph with the trained decoder and head into models/subject.onnx.

  export.py DETECTOR.onnx TRAINED.pt OUT.onnx

DETECTOR.onnx: converted by graph_to_onnx.py for 512 x 512 px, which is what its graph says.

The detector's own decoder stays as it is for its two maps (centres, reaches); a second, trained decoder on the same features feeds the
head that gives the mask. Weights keep eight bits of mantissa: packed by zstd the file is then below 4 MB.
"""
import sys

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper

from network import FIRST, LAST
from subject_pictures import SIDE



def rounded(v):
    if v.dtype != np.float32 or v.size <= 64:
        return v
    bits = v.view(np.uint32).astype(np.uint64)
    return ((bits + (1 << 14)) & ~np.uint64((1 << 15) - 1)).astype(np.uint32).view(np.float32)


def main():
    detector, trained, out = sys.argv[1:4]
    model = onnx.load(detector)
    g = model.graph
    state = {k: v.numpy() for k, v in torch.load(trained).items()}
    initial = {t.name: numpy_helper.to_array(t) for t in g.initializer}
    names = [n.output[0] for n in g.node]
    nodes, weights = list(g.node), dict(initial)

    def add(name, value):
        weights[name] = np.ascontiguousarray(value)
        return name

    def conv(x, key, outname, pad, relu=True):
        w, b = add(key + '.w', state[key + '.weight']), add(key + '.b', state[key + '.bias'])
        nodes.append(helper.make_node('Conv', [x, w, b], [outname + ('_' if relu else '')], kernel_shape=list(state[key + '.weight'].shape[2:]),
                                      pads=[pad] * 4, strides=[1, 1], dilations=[1, 1], group=1))
        if relu:
            nodes.append(helper.make_node('Relu', [outname + '_'], [outname]))
        return outname

    def twice(x, outname):
        scales = add('scales.' + outname, np.array([1, 1, 2, 2], np.float32))
        roi = add('roi.' + outname, np.zeros(0, np.float32))
        nodes.append(helper.make_node('Resize', [x, roi, scales], [outname], mode='linear', coordinate_transformation_mode='half_pixel'))
        return outname

    def beside(parts, outname):
        nodes.append(helper.make_node('Concat', parts, [outname], axis=1))
        return outname

    # The second decoder.
    made = set()
    for n in list(g.node)[names.index(FIRST):names.index(LAST) + 1]:
        ins = []
        for i in n.input:
            if i in made:
                ins.append('t_' + i)
            elif 'e.P.' + i in state:
                ins.append(add('t_' + i, state['e.P.' + i]))
            else:
                ins.append(i)
        copy = helper.make_node(n.op_type, ins, ['t_' + n.output[0]])
        copy.attribute.extend(n.attribute)
        nodes.append(copy)
        made.add(n.output[0])
    # The head.
    h = conv('t_v227', 'h4.0', 'h4', 0)
    h = conv(beside(['t_v235', twice(h, 'u3')], 'b3'), 'h3.0', 'h3', 1)
    h = conv(beside(['t_v243', twice(h, 'u2')], 'b2'), 'h2.0', 'h2', 1)
    h = conv(beside(['t_v245', twice(h, 'u1')], 'b1'), 'h1.0', 'h1', 1)
    h = conv(beside(['v8', twice(h, 'u0')], 'b0'), 'h0.0', 'h0', 1)
    nodes.append(helper.make_node('Sigmoid', [conv(h, 'o0', 'logit', 1, relu=False)], ['mask']))

    # The graph is convolutions and doublings alone: it takes any side that 32 divides.
    image = helper.make_tensor_value_info(g.input[0].name, 1, [1, 3, SIDE, SIDE])
    outs = [helper.make_tensor_value_info(name, 1, [1, channels, SIDE // step, SIDE // step])
            for name, channels, step in (('mask', 1, 2), ('centres', 80, 4), ('reaches', 4, 4))]
    used = {i for n in nodes for i in n.input}
    graph = helper.make_graph(nodes, 'subject', [image], outs,
                              [numpy_helper.from_array(rounded(v), k) for k, v in weights.items() if k in used])
    made = helper.make_model(graph, opset_imports=[helper.make_opsetid('', 11)], ir_version=7)
    with open(out, 'wb') as f:
        f.write(made.SerializeToString())


main()
