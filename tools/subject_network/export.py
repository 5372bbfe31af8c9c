#!/usr/bin/env python3
"""Joins the detector's graph with trained decoders and heads into models/subject.onnx.

  export.py DETECTOR.onnx TRAINED.pt [TRAINED.pt ...] OUT.onnx

DETECTOR.onnx: converted by graph_to_onnx.py for 512 x 512 px, which is what its graph says.

The detector's own decoder stays as it is for its two maps (centres, reaches); a second, trained decoder on the same features feeds the
head that gives the mask; of several, the mask is the mean. Weights keep a few bits of mantissa: packed by zstd the file is then below 4 MB.
"""
import sys

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper

from network import FIRST, LAST
from subject_pictures import SIDE

BITS, TRAINED_BITS = 7, 6  # of mantissa, of the detector's weights and of the trained ones


def rounded(v, bits):
    """To so many bits of mantissa: what is left out packs to nothing."""
    if v.dtype != np.float32 or v.size <= 64:
        return v
    off = np.uint64(23 - bits)
    raw = v.view(np.uint32).astype(np.uint64)
    return ((raw + (np.uint64(1) << (off - np.uint64(1)))) >> off << off).astype(np.uint32).view(np.float32)


def main():
    detector, trainings, out = sys.argv[1], sys.argv[2:-1], sys.argv[-1]
    model = onnx.load(detector)
    g = model.graph
    initial = {t.name: numpy_helper.to_array(t) for t in g.initializer}
    names = [n.output[0] for n in g.node]
    nodes, weights = list(g.node), dict(initial)

    def add(name, value):
        weights[name] = np.ascontiguousarray(value)
        return name

    def twice(x, outname):
        scales = add('scales.' + outname, np.array([1, 1, 2, 2], np.float32))
        roi = add('roi.' + outname, np.zeros(0, np.float32))
        nodes.append(helper.make_node('Resize', [x, roi, scales], [outname], mode='linear', coordinate_transformation_mode='half_pixel'))
        return outname

    def beside(parts, outname):
        nodes.append(helper.make_node('Concat', parts, [outname], axis=1))
        return outname

    def trained(path, prefix):
        """Adds one decoder and head; gives the name of its mask."""
        state = {k: v.numpy() for k, v in torch.load(path).items()}

        def conv(x, key, outname, pad, relu=True):
            w, b = add(prefix + key + '.w', state[key + '.weight']), add(prefix + key + '.b', state[key + '.bias'])
            outname = prefix + outname
            nodes.append(helper.make_node('Conv', [x, w, b], [outname + ('_' if relu else '')], kernel_shape=list(state[key + '.weight'].shape[2:]),
                                          pads=[pad] * 4, strides=[1, 1], dilations=[1, 1], group=1))
            if relu:
                nodes.append(helper.make_node('Relu', [outname + '_'], [outname]))
            return outname

        made = set()
        for n in list(g.node)[names.index(FIRST):names.index(LAST) + 1]:
            ins = []
            for i in n.input:
                if i in made:
                    ins.append(prefix + i)
                elif 'e.P.' + i in state:
                    ins.append(add(prefix + i, state['e.P.' + i]))
                else:
                    ins.append(i)
            copy = helper.make_node(n.op_type, ins, [prefix + n.output[0]])
            copy.attribute.extend(n.attribute)
            nodes.append(copy)
            made.add(n.output[0])
        h = conv(prefix + 'v227', 'h4.0', 'h4', 0)
        for feature, key in (('v235', 'h3'), ('v243', 'h2'), ('v245', 'h1')):
            h = conv(beside([prefix + feature, twice(h, prefix + 'u' + key)], prefix + 'b' + key), key + '.0', key, 1)
        h = conv(beside(['v8', twice(h, prefix + 'u0')], prefix + 'b0'), 'h0.0', 'h0', 1)
        mask = prefix + 'mask'
        nodes.append(helper.make_node('Sigmoid', [conv(h, 'o0', 'logit', 1, relu=False)], [mask]))
        return mask

    masks = [trained(path, 't%d_' % i) for i, path in enumerate(trainings)]
    total = masks[0]
    for i, mask in enumerate(masks[1:]):
        nodes.append(helper.make_node('Add', [total, mask], ['sum%d' % i]))
        total = 'sum%d' % i
    nodes.append(helper.make_node('Mul', [total, add('share', np.full((1, 1, 1, 1), 1 / len(masks), np.float32))], ['mask']))

    # The graph is convolutions and doublings alone: it takes any side that 32 divides.
    image = helper.make_tensor_value_info(g.input[0].name, 1, [1, 3, SIDE, SIDE])
    outs = [helper.make_tensor_value_info(name, 1, [1, channels, SIDE // step, SIDE // step])
            for name, channels, step in (('mask', 1, 2), ('centres', 80, 4), ('reaches', 4, 4))]
    used = {i for n in nodes for i in n.input}
    graph = helper.make_graph(nodes, 'subject', [image], outs,
                              [numpy_helper.from_array(rounded(v, TRAINED_BITS if k not in initial else BITS), k) for k, v in weights.items() if k in used])
    made = helper.make_model(graph, opset_imports=[helper.make_opsetid('', 11)], ir_version=7)
    with open(out, 'wb') as f:
        f.write(made.SerializeToString())


main()
