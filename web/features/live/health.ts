import type { StationState } from '@umbral/instruments';

export const healthWords: Record<StationState['health'], string> = {
  connecting: 'being looked for',
  measuring: 'measures',
  troubled: 'answers badly',
  lost: 'lost',
};
