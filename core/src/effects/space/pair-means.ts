type Samples = readonly Float32Array[];

/** What goes into a room on the left and on the right: the means of the channels of either side, of which mono has one for both. */
export interface PairMeans {
  left(channels: Samples, i: number): number;
  right(channels: Samples, i: number): number;
}

export function pairMeans(channelCount: number): PairMeans {
  if (channelCount <= 2) {
    const last = channelCount - 1;
    return { left: (channels, i) => channels[0]![i]!, right: (channels, i) => channels[last]![i]! };
  }
  // Left and right in turns, as everywhere where pairs are treated.
  const mean =
    (first: number) =>
    (channels: Samples, i: number): number => {
      let sum = 0;
      let count = 0;
      for (let c = first; c < channelCount; c += 2) {
        sum += channels[c]![i]!;
        count++;
      }
      return sum / count;
    };
  return { left: mean(0), right: mean(1) };
}
