// The turn and the mirror chosen by hand: between pixels of the picture and the picture as seen.

/**
 * @typedef {object} Turned
 * @property {number} width of the picture as seen, in its pixels
 * @property {number} height
 * @property {(point: number[]) => number[]} toSeen edges of pixels count, so 0 is the outer edge
 * @property {(point: number[]) => number[]} toPicture the inverse
 * @property {number[]} matrix a, b, c, d of a canvas transformation about the middle
 */

/**
 * Mirrored left to right first, then turned clockwise.
 * @param {{width: number, height: number}} picture @param {number} quarter degrees @param {boolean} mirror
 * @returns {Turned}
 */
export function turning(picture, quarter, mirror) {
  const [cos, sin] = [[1, 0], [0, 1], [-1, 0], [0, -1]][quarter / 90];
  const m = mirror ? -1 : 1;
  // x' = cos·m·x − sin·y, y' = sin·m·x + cos·y, about the middle
  const matrix = [cos * m, sin * m, -sin, cos];
  const sideways = quarter % 180 !== 0;
  const width = sideways ? picture.height : picture.width;
  const height = sideways ? picture.width : picture.height;
  const [a, b, c, d] = matrix;
  return {
    width,
    height,
    matrix,
    toSeen: ([x, y]) => {
      const [dx, dy] = [x - picture.width / 2, y - picture.height / 2];
      return [a * dx + c * dy + width / 2, b * dx + d * dy + height / 2];
    },
    toPicture: ([x, y]) => {
      const [dx, dy] = [x - width / 2, y - height / 2];
      return [a * dx + b * dy + picture.width / 2, c * dx + d * dy + picture.height / 2];
    },
  };
}
