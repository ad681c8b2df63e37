/**
 * The value that `place` others are not below (0: the largest), which takes a time that grows with how many there are (C. A. R.
 * Hoare, "Algorithm 65: Find", 1961, with pivots by chance). There are more values than `place`, none of them NaN.
 */
export function nthLargest(values: Float64Array, place: number): number {
  const list = values.slice();
  const wanted = list.length - 1 - place;
  let low = 0;
  let high = list.length - 1;
  while (low < high) {
    const pivot = list[low + Math.floor(Math.random() * (high - low + 1))] as number;
    let [left, right] = [low, high];
    while (left <= right) {
      while ((list[left] as number) < pivot) left++;
      while ((list[right] as number) > pivot) right--;
      if (left > right) break;
      const moved = list[left] as number;
      list[left++] = list[right] as number;
      list[right--] = moved;
    }
    if (wanted <= right) high = right;
    else if (wanted >= left) low = left;
    else break;
  }
  return list[wanted] as number;
}
