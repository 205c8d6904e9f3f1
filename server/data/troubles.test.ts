import { Failure } from '../../core/units';
import { troubleFailure, troubleOf } from './troubles';

const coded = (code: string, message = 'x') => Object.assign(new Error(message), { code });

describe('what keeps the database from answering', () => {
  it.each<[string, Error, ReturnType<typeof troubleOf>]>([
    ['refused', coded('ECONNREFUSED'), 'away'],
    ['ending', coded('57P01', 'terminating connection due to administrator command'), 'away'],
    ['starting', coded('57P03', 'the database system is starting up'), 'away'],
    ['broken off', new Error('Connection terminated unexpectedly'), 'away'],
    ['slow to connect', new Error('timeout exceeded when trying to connect'), 'away'],
    ['of several addresses', new AggregateError([coded('ECONNREFUSED'), coded('ECONNREFUSED')]), 'away'],
    ['below another', new Error('a query failed', { cause: coded('ECONNRESET') }), 'away'],
    ['full', coded('53100', 'could not extend file'), 'disk-full'],
    ['full, said of a file', coded('58030', 'could not write to file: No space left on device'), 'disk-full'],
    ['a fault of a query', coded('42601', 'syntax error'), null],
    ['a fault of ours', new TypeError('x is not a function'), null],
    ['a refusal', new Failure('bad-input', 'No.'), null],
  ])('is known where it is %s', (_, error, trouble) => expect(troubleOf(error)).toBe(trouble));

  it('is told as what passes by itself, with what to do', () => {
    expect(troubleFailure('away')).toMatchObject({ code: 'unavailable', remedy: expect.stringContaining('by itself') });
    expect(troubleFailure('disk-full')).toMatchObject({ code: 'no-room', remedy: expect.stringContaining('Make room') });
  });
});
