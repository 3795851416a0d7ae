/**
 * The first place in a list, from a given one on, whose item passes a test that all later ones pass too: found by
 * halving. The length of the list if none does.
 */
export function firstPlace<T>(list: readonly T[], passes: (item: T) => boolean, from = 0): number {
  let [low, high] = [from, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (passes(list[middle] as T)) high = middle;
    else low = middle + 1;
  }
  return low;
}
