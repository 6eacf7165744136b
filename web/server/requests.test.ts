import fc from 'fast-check';
import { attachmentHeader, fileNameOf } from './requests.ts';

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
