"""The detector's graph in PyTorch, its decoder trainable, and a head that gives a mask."""
import numpy as np
import onnx
import torch
import torch.nn as nn
import torch.nn.functional as F
from onnx import numpy_helper

FIRST, LAST = 'v223', 'v245'  # the decoder's nodes in the converted graph


class Detector(nn.Module):
    def __init__(self, path):
        super().__init__()
        graph = onnx.load(path).graph
        self.I = {t.name: torch.tensor(numpy_helper.to_array(t).copy()) for t in graph.initializer}
        self.input = graph.input[0].name
        nodes = [(n.op_type, list(n.input), n.output[0], {a.name: onnx.helper.get_attribute_value(a) for a in n.attribute})
                 for n in graph.node]
        outputs = [n[2] for n in nodes]
        self.encoder = nodes[:outputs.index(FIRST)]
        self.decoder = nodes[outputs.index(FIRST):outputs.index(LAST) + 1]
        self.P = nn.ParameterDict({c: nn.Parameter(self.I[c]) for op, ins, _, _ in self.decoder if op == 'Conv'
                                   for c in ins if c in self.I})

    def run(self, made, nodes):
        def get(k):
            return made[k] if k in made else self.P[k] if k in self.P else self.I[k]

        for op, ins, out, at in nodes:
            x = get(ins[0])
            if op == 'Conv':
                p = at['pads']
                bias = get(ins[2]) if len(ins) > 2 else None
                made[out] = F.conv2d(F.pad(x, (p[1], p[3], p[0], p[2])), get(ins[1]), bias, at['strides'], 0, at['dilations'], at['group'])
            elif op == 'Add': made[out] = x + get(ins[1])
            elif op == 'Mul': made[out] = x * get(ins[1])
            elif op == 'Relu': made[out] = F.relu(x)
            elif op == 'Clip': made[out] = x.clamp(float(at['min']), float(at['max']))
            elif op == 'Sigmoid': made[out] = torch.sigmoid(x)
            elif op == 'GlobalAveragePool': made[out] = x.mean((2, 3), keepdim=True)
            elif op == 'MaxPool':
                p = at['pads']
                made[out] = F.max_pool2d(F.pad(x, (p[1], p[3], p[0], p[2]), value=-1e9), at['kernel_shape'], at['strides'])
            elif op == 'Resize': made[out] = doubled(x)
            elif op == 'Concat': made[out] = torch.cat([get(i) for i in ins], 1)
            else: raise NotImplementedError(op)
        return made

    def forward(self, x):
        with torch.no_grad():
            made = self.run({self.input: x}, self.encoder)
        return self.run(made, self.decoder)


def doubled(x):
    return F.interpolate(x, scale_factor=2, mode='bilinear', align_corners=False)


class Net(nn.Module):
    def __init__(self, detector):
        super().__init__()

        def c(i, o, k=3):
            return nn.Sequential(nn.Conv2d(i, o, k, padding=k // 2), nn.ReLU())

        self.e = Detector(detector)
        self.h4, self.h3, self.h2, self.h1, self.h0 = c(128, 48, 1), c(96 + 48, 48), c(64 + 48, 48), c(128 + 48, 32), c(16 + 32, 16)
        self.o1, self.o0 = nn.Conv2d(32, 1, 1), nn.Conv2d(16, 1, 3, padding=1)

    def forward(self, x):
        """Logits of the mask at a quarter and at half of the picture's size."""
        made = self.e(x)
        h = self.h4(made['v227'])
        for feature, block in (('v235', self.h3), ('v243', self.h2), ('v245', self.h1)):
            h = block(torch.cat([made[feature], doubled(h)], 1))
        return self.o1(h), self.o0(self.h0(torch.cat([made['v8'], doubled(h)], 1)))
