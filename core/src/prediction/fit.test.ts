import fc from 'fast-check';
import { recognisePatterns } from '../shape/index.ts';
import { recorded } from '../testing/recorded.ts';
import { compileProfile, genericProfile, shippedProfile, startUp, type Profile } from '../twin/index.ts';
import { contextFor } from './expectation.ts';
import { compareShapes, fitOf, fitOfNothing } from './fit.ts';
import { featuresOf } from './predict.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? genericProfile('phone', false);
const phone = profileOf('tallgate-moorcall-2');
const eye = { noiseA: 0.0008, resolutionA: 0.001, intervalS: 0.05 };

describe('fit', () => {
  test('the truth fits better than a strange cause, and better than a healthy device', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('mute:storage-chip', 'short:main=20', 'mute:clock', 'short:radio=0.2'),
        fc.nat(50),
        (spec, seed) => {
          const { value, run, shape, start, setup } = recorded(phone, spec, {}, seed + 1);
          const context = contextFor(value, run);
          const seen = { features: shape.features, patterns: recognisePatterns(shape, context) };
          const predict = (s: typeof start) => {
            const features = featuresOf(s, setup, eye);
            return { features, patterns: recognisePatterns({ ...shape, features }, context) };
          };
          const total = (f: { pattern: number; details: number }): number => f.pattern + f.details;
          const truth = predict(start);
          const healthy = predict(startUp(compileProfile(phone), [], setup));
          const nothing = total(fitOfNothing(seen, compareShapes(seen, truth, 'own', true)));
          expect(total(fitOf(compareShapes(seen, truth, 'own', true)))).toBeGreaterThan(nothing);
          expect(total(fitOf(compareShapes(seen, healthy, 'own', true)))).toBeLessThan(
            total(fitOf(compareShapes(seen, truth, 'own', true))),
          );
        },
      ),
      { numRuns: 25 },
    );
  });
});
