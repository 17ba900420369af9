"""The reader: convolutions over the picture, then both ways along it, then a class for every four px."""
import torch
from torch import nn

from alphabet import CLASSES


def _conv(a, b, kernel, stride=1, pad=None):
    pad = tuple(k // 2 for k in kernel) if pad is None else pad
    return nn.Sequential(nn.Conv2d(a, b, kernel, stride, pad, bias=False), nn.BatchNorm2d(b), nn.ReLU(inplace=True))


class Residual(nn.Module):
    def __init__(self, n, dilation):
        super().__init__()
        self.one = nn.Sequential(nn.Conv1d(n, n, 3, padding=dilation, dilation=dilation, bias=False), nn.BatchNorm1d(n), nn.ReLU(inplace=True))
        self.two = nn.Sequential(nn.Conv1d(n, n, 3, padding=dilation, dilation=dilation, bias=False), nn.BatchNorm1d(n))

    def forward(self, x):
        return torch.relu(x + self.two(self.one(x)))


class Reader(nn.Module):
    """(batch, 1, 40, w), ink 1 on paper 0, to logarithms of probabilities (batch, w / 4, CLASSES)."""

    def __init__(self):
        super().__init__()
        self.picture = nn.Sequential(
            _conv(1, 24, (5, 5), (2, 2)),
            _conv(24, 32, (3, 3)),
            nn.MaxPool2d(2),
            _conv(32, 64, (3, 3)),
            _conv(64, 64, (3, 3)),
            nn.MaxPool2d((2, 1)),
            _conv(64, 96, (3, 3)),
            _conv(96, 160, (5, 1), pad=(0, 0)),
        )
        self.along = nn.Sequential(Residual(160, 1), Residual(160, 2), Residual(160, 1), nn.Dropout(0.1))
        self.both = nn.GRU(160, 96, bidirectional=True, batch_first=True)
        self.classes = nn.Linear(192, CLASSES)

    def forward(self, x):
        x = self.picture(x).squeeze(2)
        x = self.along(x).transpose(1, 2)
        x, _ = self.both(x)
        return torch.log_softmax(self.classes(x), dim=-1)
