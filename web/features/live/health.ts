import type { StationState } from '@umbral/instruments';

export const healthWords: Record<StationState['health'], string> = {
  connecting: 'connecting',
  measuring: 'measures',
  troubled: 'bad answers',
  lost: 'lost',
};
