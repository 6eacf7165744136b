import { instrumentModels, type Profile } from '@umbral/core';
import { feedWords } from '@/features/words';
import { Field } from '@/ui/parts';
import type { StartQuestion } from '@/server/analysis/start';
import { faultChoices, feedsOf } from './virtual-start';

/** Chooses a fault and a setup. A plain form: the address says what was asked, so that it can be kept and sent. */
export function StartForm({
  profile,
  question,
  version,
}: {
  profile: Profile;
  question: StartQuestion;
  /** Version that is looked at where it is not the latest. */
  version: number | null;
}) {
  const known = faultChoices(profile);
  const listed = known.some((g) => g.choices.some((c) => c.value === question.fault));
  return (
    <form
      method="get"
      className="grid grid-cols-2 items-end gap-3 sm:grid-cols-3 lg:grid-cols-[2fr_1fr_1fr_1fr_1fr_auto]"
    >
      {version !== null && <input type="hidden" name="version" value={version} />}
      <Field label="Fault">
        <select name="fault" className="field" defaultValue={question.fault}>
          <option value="none">none: healthy</option>
          {!listed && question.fault !== 'none' && <option value={question.fault}>{question.fault}</option>}
          {known.map((g) => (
            <optgroup key={g.group} label={g.group}>
              {g.choices.map((c) => (
                <option key={c.value} value={c.value}>
                  {c.words}
                </option>
              ))}
            </optgroup>
          ))}
        </select>
      </Field>
      <Field label="Feed">
        <select name="feed" className="field" defaultValue={question.feed}>
          {feedsOf(profile).map((f) => (
            <option key={f} value={f}>
              {feedWords[f]}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Port and plug">
        <select name="port" className="field" defaultValue={String(question.port)}>
          {profile.ports.length === 0 && <option value="1">no port</option>}
          {profile.ports.map((p, k) => (
            <option key={p.id} value={k + 1}>
              port {k + 1}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Battery">
        {question.feed === 'battery' ? (
          <select className="field" disabled>
            <option>replaced by the supply</option>
          </select>
        ) : (
          <select name="battery" className="field" defaultValue={question.battery ? 'yes' : 'no'}>
            <option value="yes">in</option>
            <option value="no">out</option>
          </select>
        )}
      </Field>
      <Field label="Instrument">
        <select name="instrument" className="field" defaultValue={question.instrument}>
          {Object.entries(instrumentModels).map(([name, i]) => (
            <option key={name} value={name}>
              {name.replace('-', ' ')}, {i.rateHz} Hz
            </option>
          ))}
        </select>
      </Field>
      <button type="submit" className="button button-main">
        Simulate
      </button>
    </form>
  );
}
