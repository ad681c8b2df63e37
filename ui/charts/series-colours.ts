/**
 * Ten colours for things that have no order, by day and by night; the first ones differ the most. Chosen by search over
 * OKLCH (B. Ottosson, 2020) so that any two of them stay apart for people who see colours as most do, and for those with
 * protanopia, deuteranopia or tritanopia (G. Machado, M. Oliveira, L. Fernandes, 2009), each at a contrast of at least 3
 * to the paper.
 */
export const seriesColours = {
  day: ['#14566b', '#d37812', '#7a87ec', '#561200', '#301172', '#b54628', '#2f71b5', '#b180a4', '#83273a', '#7e686e'],
  night: ['#6fb3c4', '#25744a', '#daf18f', '#9e51a5', '#f8ac3d', '#e1773b', '#7be2fc', '#92808d', '#5782e0', '#f2c5b9'],
} as const;
