/** The currency that amounts are shown in: amounts themselves are in whatever the shop reckons with. */
const currency = '€';

/**
 * A price, with its cents.
 *
 * @example
 * formatPrice(0.2); // '0.20 €'
 */
export const formatPrice = (amount: number): string => `${amount.toFixed(2)} ${currency}`;

/**
 * An amount in whole units, as it is shown.
 *
 * @example
 * formatMoney(-3.2); // '−3 €'
 */
export function formatMoney(amount: number): string {
  const whole = Math.round(amount);
  return `${whole < 0 ? '−' : ''}${Math.abs(whole)} ${currency}`;
}
