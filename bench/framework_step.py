#!/usr/bin/python3
# SPDX-License-Identifier: Apache-2.0
"""The same losses in a general framework (Debian's python3-torch), step against step in one run:
framework_step.py PROGRAM, which is jugendstil_network_bars. Weights are random: times do not depend on them."""
import subprocess
import sys
import time

import torch
from torch import nn

WIDTH, HEIGHT, THREADS, ROUNDS = 512, 384, 2, 3
BARS = {"own": 8, "nineteen": 3}


class Ours:
    """Steps of the program beside this one."""

    def __init__(self, program, network):
        self.process = subprocess.Popen([program, "step", network], stdin=subprocess.PIPE,
                                        stdout=subprocess.PIPE, text=True)
        self.layers = []
        for line in iter(self.process.stdout.readline, "ready\n"):
            self.layers.append(line.split())

    def seconds(self):
        self.process.stdin.write("\n")
        self.process.stdin.flush()
        return float(self.process.stdout.readline())

    def end(self):
        self.process.stdin.close()
        self.process.wait()


class Theirs:
    """A step there: activations, Gram matrices and content loss forward, and back to the picture."""

    def __init__(self, layers):
        self.layers = []
        for inputs, outputs, kernel, pooling, *roles in layers:
            convolution = nn.Conv2d(int(inputs), int(outputs), int(kernel), padding=int(kernel) // 2)
            convolution.requires_grad_(False)
            pool = {"none": None, "average": nn.AvgPool2d(2), "maximum": nn.MaxPool2d(2)}[pooling]
            self.layers.append((pool, convolution, roles))
        self.picture = torch.rand(1, 3, HEIGHT, WIDTH, requires_grad=True)
        with torch.no_grad():
            self.goals = self.seen(torch.rand(1, 3, HEIGHT, WIDTH))

    def seen(self, picture):
        found, a = [], picture
        for pool, convolution, roles in self.layers:
            a = torch.relu(convolution(a if pool is None else pool(a)))
            if "style" in roles:
                flat = a.view(a.shape[1], -1)
                found.append(flat @ flat.t() / flat.shape[1])
            if "content" in roles:
                found.append(a)
        return found

    def seconds(self):
        begin = time.perf_counter()
        self.picture.grad = None
        loss = sum((a - b).pow(2).mean() for a, b in zip(self.seen(self.picture), self.goals))
        loss.backward()
        return time.perf_counter() - begin


def main():
    torch.set_num_threads(THREADS)
    torch.manual_seed(1)
    for network, bar in BARS.items():
        ours = Ours(sys.argv[1], network)
        theirs = Theirs(ours.layers)
        # In turn, because a machine's speed drifts; the quickest of each counts.
        pairs = [(ours.seconds(), min(theirs.seconds() for _ in range(2))) for _ in range(ROUNDS)]
        ours.end()
        own, other = (min(side) for side in zip(*pairs))
        word = "met" if other / own >= bar else "missed"
        print(f"{network}: {own:.2f} s a step, {other:.2f} s in the framework, {other / own:.1f} times; "
              f"at least {bar}: {word}", flush=True)


if __name__ == "__main__":
    main()
