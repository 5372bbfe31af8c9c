#!/usr/bin/env python3
"""Turns a frozen TensorFlow graph kept as JSON with weights beside it into one ONNX file that OpenCV 4.6 can run.

  graph_to_onnx.py GRAPH.json OUT.onnx --input NAME=1,H,W,3 [--value NAME=NUMBER ...] --output NODE[:PART]=NAME [...]

Shapes are fixed: everything that depends on them alone is worked out here, so that convolutions, sums, resizes and the like are all
that is left. Images are N, H, W, C in the graph and N, C, H, W in the file. Weights are rounded to half precision where --half is
given (they stay in single precision, which is all that OpenCV 4.6 reads, and are packed to half their size by gzip). Needs Debian's python3-onnx and python3-numpy.
"""
import argparse
import base64
import json
import os

import numpy as np
import onnx
from onnx import TensorProto, helper, numpy_helper

TYPES = {'DT_FLOAT': np.float32, 'DT_INT32': np.int32, 'DT_BOOL': np.bool_, 'float32': np.float32, 'int32': np.int32, 'bool': np.bool_}
NHWC = (0, 2, 3, 1)  # where each axis of the graph's image lies in the file's


class Data:
    """What is only known when the model runs. axes: for each axis of the graph, the file's; zeros: channels at the end that are 0."""

    def __init__(self, name, shape, axes=NHWC, zeros=0):
        self.name, self.shape, self.axes, self.zeros = name, tuple(int(v) for v in shape), axes, zeros
        self.pads = self.dilation = None  # what an earlier node said of the convolution that comes


class Dead(Exception):
    """The branch of a switch that is not taken."""


class Graph:
    def __init__(self, path, inputs, values, half):
        j = json.load(open(path))
        self.nodes = {n['name']: n for n in j['modelTopology']['node']}
        self.weights = self.read_weights(path, j['weightsManifest'])
        self.inputs, self.values, self.half = inputs, values, half
        self.done, self.out, self.constants = {}, [], []

    @staticmethod
    def read_weights(path, manifest):
        found = {}
        for group in manifest:
            raw = b''.join(open(os.path.join(os.path.dirname(path), p), 'rb').read() for p in group['paths'])
            at = 0
            for w in group['weights']:
                q = w.get('quantization')
                stored = np.dtype(q['dtype'] if q else TYPES[w['dtype']])
                count = int(np.prod(w['shape'])) if w['shape'] else 1
                v = np.frombuffer(raw, stored, count, at).reshape(w['shape'])
                at += count * stored.itemsize
                v = v.astype(TYPES[w['dtype']])
                if q and 'scale' in q:
                    v = v * np.float32(q['scale']) + np.float32(q['min'])
                found[w['name']] = np.asarray(v)
        return found

    # Writing
    def emit(self, op, inputs, like, shape=None, axes=None, **attributes):
        name = f'v{len(self.out)}'
        self.out.append(helper.make_node(op, inputs, [name], **attributes))
        return Data(name, shape or like.shape, axes or like.axes)

    def constant(self, value):
        name = f'c{len(self.constants)}'
        value = np.asarray(value)
        if self.half and value.dtype == np.float32 and value.size > 64:
            value = value.astype(np.float16).astype(np.float32)
        self.constants.append(numpy_helper.from_array(np.ascontiguousarray(value), name))
        return name

    def beside(self, value, data):
        """A constant as it is added to or multiplied with data: a number a channel, or one number."""
        value = np.asarray(value, np.float32)
        if value.size == 1:
            return self.constant(value.reshape([1] * len(data.shape)))
        full = value.reshape([1] * (len(data.shape) - value.ndim) + list(value.shape))
        return self.constant(np.transpose(full, np.argsort(data.axes)))

    # Reading
    def value(self, name):
        name = name.lstrip('^')
        node, _, part = name.partition(':')
        if node not in self.done:
            try:
                self.done[node] = self.work(self.nodes[node])
            except Dead:
                self.done[node] = Dead
        v = self.done[node]
        if v is Dead:
            raise Dead
        if isinstance(v, list):
            v = v[int(part or 0)]
            if v is Dead:
                raise Dead
        return v

    def work(self, n):
        op, name = n['op'], n['name']
        if op == 'Placeholder':
            if name in self.inputs:
                return Data(name, self.inputs[name][0], self.inputs[name][1])
            return np.array(self.values[name], np.float32)
        if op == 'Const':
            return self.weights[name]
        inputs = [i for i in n.get('input', []) if not i.startswith('^')]
        if op == 'Merge':
            for i in inputs:
                try:
                    return self.value(i)
                except Dead:
                    pass
            raise Dead
        ins = [self.value(i) for i in inputs]
        if op == 'Switch':
            return [ins[0], Dead] if not bool(ins[1]) else [Dead, ins[0]]
        if op == 'Shape':
            return np.array(ins[0].shape, np.int32)
        if all(isinstance(v, np.ndarray) for v in ins):
            v = self.fold(op, n, ins)
            return v if isinstance(v, list) else np.asarray(v)
        return getattr(self, 'do_' + op.lstrip('_').lower())(n, ins)

    @staticmethod
    def attr(n, key, default=None):
        a = n.get('attr', {}).get(key)
        if a is None:
            return default
        for kind in ('i', 'f', 'b', 'type', 's'):
            if kind in a:
                return int(a[kind]) if kind == 'i' else base64.b64decode(a[kind]).decode() if kind == 's' else a[kind]
        return a.get('list', {})

    def numbers(self, n, key):
        return [int(v) for v in self.attr(n, key, {}).get('i', [])]

    def strings(self, n, key):
        return [base64.b64decode(v).decode() for v in self.attr(n, key, {}).get('s', [])]

    def fold(self, op, n, v):
        if op in ('Add', 'AddV2'): return v[0] + v[1]
        if op == 'Sub': return v[0] - v[1]
        if op == 'Mul': return v[0] * v[1]
        if op == 'RealDiv': return v[0] / v[1]
        if op == 'FloorDiv': return v[0] // v[1]
        if op == 'FloorMod': return v[0] % v[1]
        if op == 'Minimum': return np.minimum(v[0], v[1])
        if op == 'Maximum': return np.maximum(v[0], v[1])
        if op == 'Equal': return np.array(v[0] == v[1])
        if op in ('Identity', 'NoOp'): return v[0]
        if op == 'Cast': return v[0].astype(TYPES[self.attr(n, 'DstT')])
        if op == 'Pack': return np.stack(v, self.attr(n, 'axis', 0))
        if op == 'ConcatV2': return np.concatenate(v[:-1], int(v[-1]))
        if op == 'BroadcastTo': return np.broadcast_to(v[0], v[1])
        if op == 'Reshape': return v[0].reshape(v[1])
        if op == 'Squeeze': return np.squeeze(v[0])
        if op == 'ExpandDims': return np.expand_dims(v[0], int(v[1]))
        if op == 'Slice': return v[0][tuple(slice(b, None if s < 0 else b + s) for b, s in zip(v[1], v[2]))]
        if op == 'StridedSlice': return v[0][self.slices(n, v[0].shape, v[1], v[2], v[3])]
        if op == 'SparseToDense':
            out = np.full(v[1], v[3])
            out[tuple(np.atleast_2d(v[0]).T) if v[0].ndim > 1 else v[0]] = v[2]
            return out
        if op in ('Split', 'SplitV'): return self.parts(n, v[1] if op == 'Split' else v[0], v)
        raise NotImplementedError(op)

    def slices(self, n, shape, begin, end, step):
        out = []
        for i in range(len(begin)):
            bit = 1 << i
            if self.attr(n, 'shrink_axis_mask', 0) & bit:
                out.append(int(begin[i]))
            else:
                out.append(slice(None if self.attr(n, 'begin_mask', 0) & bit else int(begin[i]), None if self.attr(n, 'end_mask', 0) & bit else int(end[i]), int(step[i])))
        return tuple(out)

    # The operators that stay
    def do_identity(self, n, v): return v[0]

    def plain(self, op, d, **attributes): return self.emit(op, [d.name], d, **attributes)
    def do_relu(self, n, v): return self.plain('Relu', v[0])
    def do_relu6(self, n, v): return self.plain('Clip', v[0], min=0.0, max=6.0)
    def do_sigmoid(self, n, v): return self.plain('Sigmoid', v[0])
    def do_tanh(self, n, v): return self.plain('Tanh', v[0])
    def do_leakyrelu(self, n, v): return self.plain('LeakyRelu', v[0], alpha=float(self.attr(n, 'alpha', 0.2)))
    def do_square(self, n, v): return self.emit('Mul', [v[0].name, v[0].name], v[0])
    def do_minimum(self, n, v): return self.plain('Clip', v[0], min=-3e38, max=float(v[1]))
    def do_maximum(self, n, v): return self.plain('Clip', v[0], min=float(v[1]), max=3e38)

    def pair(self, op, v):
        a, b = v
        if op in ('Add', 'Mul') and isinstance(a, np.ndarray):
            a, b = b, a
        if isinstance(b, np.ndarray):
            if not b.any():
                if op == 'Mul': return np.zeros(np.broadcast_shapes(a.shape, b.shape), np.float32)
                return a
            return self.emit(op, [a.name, self.beside(b, a)], a)
        if isinstance(a, np.ndarray):
            if op == 'Sub':  # constant - data
                return self.emit('Add', [self.emit('Mul', [b.name, self.beside(-1.0, b)], b).name, self.beside(a, b)], b)
            raise NotImplementedError(op)
        if np.prod(a.shape) < np.prod(b.shape): a, b = b, a
        return self.emit(op, [a.name, b.name], a)

    def do_add(self, n, v): return self.pair('Add', v)
    def do_addv2(self, n, v): return self.pair('Add', v)
    def do_addn(self, n, v):
        total = v[0]
        for other in v[1:]: total = self.pair('Add', [total, other])
        return total
    def do_sub(self, n, v): return self.pair('Sub', v)
    def do_mul(self, n, v): return self.pair('Mul', v)
    def do_realdiv(self, n, v): return self.pair('Mul', [v[0], 1 / v[1]])

    def do_transpose(self, n, v):
        order = [int(i) for i in v[1]]
        out = Data(v[0].name, [v[0].shape[i] for i in order], tuple(v[0].axes[i] for i in order))
        out.pads = v[0].pads
        return out

    def do_mean(self, n, v):
        assert sorted(int(i) % 4 for i in np.atleast_1d(v[1])) == [1, 2]
        d = v[0]
        return self.emit('GlobalAveragePool', [d.name], d, shape=(d.shape[0], 1, 1, d.shape[3]))

    def window(self, n, d, kernel, strides, dilation=(1, 1), padding=None, pads=None):
        """The pads and the size after it."""
        size, out_pads = [], []
        for k in range(2):
            reach = (kernel[k] - 1) * dilation[k] + 1
            if pads is not None:
                before, after = pads[k]
            elif (padding or self.attr(n, 'padding')) == 'SAME':
                out = -(-d.shape[1 + k] // strides[k])
                total = max(0, (out - 1) * strides[k] + reach - d.shape[1 + k])
                before, after = total // 2, total - total // 2
            else:
                before = after = 0
            size.append((d.shape[1 + k] + before + after - reach) // strides[k] + 1)
            out_pads.append((before, after))
        return [out_pads[0][0], out_pads[1][0], out_pads[0][1], out_pads[1][1]], size

    def convolve(self, n, v, depthwise=False):
        d, w = v[0], v[1]
        strides, dilation = self.numbers(n, 'strides')[1:3], (self.numbers(n, 'dilations') or [1, 1, 1, 1])[1:3]
        if d.dilation: dilation = d.dilation
        assert d.axes == NHWC, n['name']
        if d.zeros: w = w[:, :, :w.shape[2] - d.zeros]
        kernel = w.shape[:2]
        p, size = self.window(n, d, kernel, strides, dilation, 'SAME' if d.dilation else None, d.pads)
        groups = 1
        if depthwise:
            groups, w = w.shape[2], np.transpose(w, (2, 3, 0, 1)).reshape(-1, 1, *kernel)
        else:
            w = np.transpose(w, (3, 2, 0, 1))
        bias = v[2].reshape(-1) if len(v) > 2 else None
        out = self.emit('Conv', [d.name, self.constant(w)] + ([self.constant(bias)] if bias is not None else []), d, shape=(d.shape[0], *size, w.shape[0]),
                        kernel_shape=list(kernel), strides=strides, dilations=list(dilation), pads=p, group=groups)
        for after in self.strings(n, 'fused_ops'):
            if after == 'Relu6': out = self.plain('Clip', out, min=0.0, max=6.0)
            elif after == 'Relu': out = self.plain('Relu', out)
            elif after != 'BiasAdd': raise NotImplementedError(after)
        return out

    def do_conv2d(self, n, v): return self.convolve(n, v)
    def do_fusedconv2d(self, n, v): return self.convolve(n, v)
    def do_depthwiseconv2dnative(self, n, v): return self.convolve(n, v, True)
    def do_fuseddepthwiseconv2dnative(self, n, v): return self.convolve(n, v, True)

    def do_spacetobatchnd(self, n, v):  # with the depthwise convolution and the way back: dilation
        out = Data(v[0].name, v[0].shape, v[0].axes)
        out.dilation = tuple(int(b) for b in v[1])
        return out

    def do_batchtospacend(self, n, v): return v[0]

    def do_pad(self, n, v):
        out = Data(v[0].name, v[0].shape, v[0].axes)
        order = [v[0].axes.index(NHWC[i]) for i in range(4)]
        p = np.asarray(v[1])[order]
        assert not p[0].any() and not p[3].any()
        out.pads = [tuple(int(x) for x in p[1]), tuple(int(x) for x in p[2])]
        return out

    do_padv2 = do_pad

    def do_conv2dbackpropinput(self, n, v):
        w, d, strides = v[1], v[2], self.numbers(n, 'strides')[1:3]
        assert list(w.shape[:2]) == strides, 'only a kernel that is as large as its step'
        return self.emit('ConvTranspose', [d.name, self.constant(np.transpose(w, (3, 2, 0, 1)))], d,
                         shape=(1, d.shape[1] * strides[0], d.shape[2] * strides[1], w.shape[2]), kernel_shape=strides, strides=strides)

    def pool(self, op, n, d):
        kernel, strides = self.numbers(n, 'ksize')[1:3], self.numbers(n, 'strides')[1:3]
        if op == 'AveragePool' and tuple(kernel) == d.shape[1:3]:
            return self.emit('GlobalAveragePool', [d.name], d, shape=(d.shape[0], 1, 1, d.shape[3]))
        p, size = self.window(n, d, kernel, strides, pads=d.pads)
        return self.emit(op, [d.name], d, shape=(d.shape[0], *size, d.shape[3]), kernel_shape=kernel, strides=strides, pads=p)

    def do_avgpool(self, n, v): return self.pool('AveragePool', n, v[0])
    def do_maxpool(self, n, v): return self.pool('MaxPool', n, v[0])

    def do_resizebilinear(self, n, v):
        d, (h, w) = v[0], [int(x) for x in v[1]]
        if (h, w) == d.shape[1:3]: return d
        way = 'align_corners' if self.attr(n, 'align_corners', False) else 'half_pixel' if self.attr(n, 'half_pixel_centers', False) else 'asymmetric'
        scales = np.array([1, 1, h / d.shape[1], w / d.shape[2]], np.float32)
        return self.emit('Resize', [d.name, self.constant(np.zeros(0, np.float32)), self.constant(scales)], d, shape=(d.shape[0], h, w, d.shape[3]), mode='linear',
                         coordinate_transformation_mode=way)

    def do_concatv2(self, n, v):
        axis = int(v[-1]) % len(v[0].shape)
        parts, zeros = list(v[:-1]), 0
        while isinstance(parts[-1], np.ndarray) and not parts[-1].any():
            zeros += parts.pop().shape[axis]
        size = sum(p.shape[axis] for p in parts)
        shape = [size if i == axis else s for i, s in enumerate(parts[0].shape)]
        out = parts[0] if len(parts) == 1 else self.emit('Concat', [p.name for p in parts], parts[0], shape=shape, axis=parts[0].axes[axis])
        return Data(out.name, shape, out.axes, zeros) if zeros else out

    def cut(self, d, axis, begin, end):
        shape = [end - begin if i == axis else s for i, s in enumerate(d.shape)]
        ints = [self.constant(np.array([x], np.int64)) for x in (begin, end, d.axes[axis])]
        return self.emit('Slice', [d.name, *ints], d, shape=shape)

    def parts(self, n, d, v):
        if n['op'] == 'Split':
            axis, count = int(v[0]), self.attr(n, 'num_split')
            sizes = [d.shape[axis] // count] * count
        else:
            sizes, axis = [int(x) for x in v[1]], int(v[2])
        axis %= len(d.shape)
        ends = np.cumsum(sizes)
        if isinstance(d, np.ndarray): return np.split(d, ends[:-1], axis)
        return [self.cut(d, axis, int(e - s), int(e)) for e, s in zip(ends, sizes)]

    def do_split(self, n, v): return self.parts(n, v[1], v)
    def do_splitv(self, n, v): return self.parts(n, v[0], v)

    def do_slice(self, n, v):
        d = v[0]
        for axis, (b, s) in enumerate(zip(v[1], v[2])):
            end = d.shape[axis] if s < 0 else int(b + s)
            if (int(b), end) != (0, d.shape[axis]): d = self.cut(d, axis, int(b), end)
        return d

    def do_stridedslice(self, n, v):
        d = v[0]
        for axis, s in enumerate(self.slices(n, d.shape, v[1], v[2], v[3])):
            begin, end, step = s.indices(d.shape[axis])
            assert step == 1
            if (begin, end) != (0, d.shape[axis]): d = self.cut(d, axis, begin, end)
        return d


def main():
    a = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    a.add_argument('graph')
    a.add_argument('out')
    a.add_argument('--input', action='append', required=True, help='NAME=1,H,W,3 or, for a graph that takes them so, NAME=1,3,H,W')
    a.add_argument('--value', action='append', default=[], help='what another input always is')
    a.add_argument('--output', action='append', required=True)
    a.add_argument('--half', action='store_true')
    o = a.parse_args()
    inputs = {}
    for i in o.input:
        name, _, shape = i.partition('=')
        shape = tuple(int(x) for x in shape.split(','))
        inputs[name] = (shape, NHWC if shape[3] == 3 else (0, 1, 2, 3))
    values = {n: float(x) for n, _, x in (v.partition('=') for v in o.value)}
    g = Graph(o.graph, inputs, values, o.half)
    outs = []
    for node, _, name in (t.partition('=') for t in o.output):
        v = g.value(node)
        maker = next(n for n in g.out if v.name in n.output)
        for n in g.out:
            n.input[:] = [name if i == v.name else i for i in n.input]
        maker.output[:] = [name]
        v.name = name
        outs.append(v)
    def said(d):
        return helper.make_tensor_value_info(d.name, TensorProto.FLOAT, [d.shape[d.axes.index(k)] for k in range(len(d.shape))])

    into = [said(Data(name, shape, axes)) for name, (shape, axes) in inputs.items()]
    model = helper.make_model(
        helper.make_graph(g.out, 'graph', into, [said(v) for v in outs], g.constants),
        opset_imports=[helper.make_opsetid('', 11)], ir_version=7)
    # The checker of the package refuses Clip with its limits as attributes, which is what OpenCV 4.6 reads.
    with open(o.out, 'wb') as f:
        f.write(model.SerializeToString())
    for v in outs:
        print(v.name, [v.shape[v.axes.index(k)] for k in range(len(v.shape))])


main()
