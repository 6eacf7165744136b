import fc from 'fast-check';
import * as yup from 'yup';
import { failure } from './errors.ts';
import { attachmentHeader, fileNameOf, jsonOf } from './requests.ts';

const named = (name: string): Request => new Request(`http://127.0.0.1/?name=${encodeURIComponent(name)}`);

describe('names from outside', () => {
  test('reach a header without anything that it may not hold', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (name) => {
        const header = attachmentHeader(name);
        expect(header).toMatch(/^attachment; filename="[\x20-\x7e]*"; filename\*=UTF-8''[\w.~!$&+%-]*$/);
        expect(header.split('"')).toHaveLength(3);
        expect(new Headers({ 'content-disposition': header }).get('content-disposition')).toBe(header);
      }),
    );
    expect(attachmentHeader('a"\r\nset-cookie: x.bin')).toContain('filename="a___set-cookie: x.bin"');
  });

  test('are their last step, without controls', () => {
    expect(fileNameOf(named('../../etc/\u001b[2Jlog\r\n.csv'))).toBe('[2Jlog.csv');
    expect(fileNameOf(named('C:\\logs\\a\u202e.csv'))).toBe('a.csv');
    expect(fileNameOf(named('///'))).toBe('log.csv');
    expect(fileNameOf(named('x'.repeat(900)))).toHaveLength(200);
  });
});

test.each(['{"constructor":""}', '{"a":{"__proto__":1}}', '[{"toString":2}]', '{', '', '\0'])(
  '%j is no body',
  async (body) => {
    const request = new Request('http://127.0.0.1/', { method: 'POST', body });
    await expect(jsonOf(request)).rejects.toThrow('expected JSON');
  },
);

test('a key that every object has is refused in words by a form as well', () => {
  const schema = yup.object({ name: yup.string() });
  for (const key of ['constructor', 'toString', '__proto__']) {
    const raw: unknown = JSON.parse(`{"${key}": "x", "name": "y"}`);
    let said = 'taken';
    try {
      schema.validateSync(raw);
    } catch (error) {
      const { kind, message } = failure(error);
      said = `${kind}: ${message}`;
    }
    expect(['input: expected a plain object', 'taken']).toContain(said);
  }
});
