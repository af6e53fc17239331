import { describe, expect, test } from '@jest/globals';
import { messageCursor } from '../../src/core/message/cursor.js';

describe('what is being typed in a message', () => {
  test.each<[string, object]>([
    ['words |', { in: 'text' }],
    ['{|', { in: 'name', typed: '' }],
    ['{ la|bel}', { in: 'name', typed: 'la' }],
    ['{max, pl|', { in: 'type', name: 'max', typed: 'pl' }],
    ['{at, date, lo|', { in: 'style', name: 'at', type: 'date', typed: 'lo' }],
    [
      '{max, plural, one {#} fe|',
      { in: 'case', name: 'max', type: 'plural', typed: 'fe', there: ['one'] },
    ],
    ['{max, plural, one {# {|', { in: 'name', typed: '' }],
    ['{max, plural, one {#} other {#}}|', { in: 'text' }],
    ["'{' is not a brace|", { in: 'text' }],
    ["it''s {na|", { in: 'name', typed: 'na' }],
    [
      '{nested, select, yes {} |',
      { in: 'case', name: 'nested', type: 'select', typed: '', there: ['yes'] },
    ],
  ])('%s', (typed, cursor) => {
    const offset = typed.indexOf('|');
    expect(messageCursor(typed.replace('|', ''), offset)).toMatchObject(cursor);
  });
});
