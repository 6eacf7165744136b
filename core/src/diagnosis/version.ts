import made from './engine-version.json';

/** Made from the engine's sources and data when it is built, so that a stored verdict of other sources is known to be old. */
export const engineVersion: string = made.version;
