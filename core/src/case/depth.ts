/** How far the device has to be opened for a check, from 0 to 5. */
export const depthWords = [
  'nothing opened',
  'cover off',
  'unplugging inside',
  'board out, probing',
  'heat or shields off',
  'stack split or chip off',
];
