void main() { written = kilnNumber(vTriangle); }
