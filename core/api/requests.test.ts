import { FORMS, checkForm } from './index';

describe('the form of a request', () => {
  it('is met by what the page sends', () => {
    expect(checkForm(FORMS.rename, { name: '  Quay ' })).toEqual({ name: 'Quay' });
    expect(checkForm(FORMS.saveRig, { base: 3, rig: { version: 1 } })).toEqual({ base: 3, rig: { version: 1 }, note: '' });
    expect(checkForm(FORMS.bake, {})).toEqual({});
    expect(checkForm(FORMS.bake, { whole: true, only: null })).toEqual({ whole: true, only: null });
    expect(checkForm(FORMS.changeBake, { again: true })).toEqual({ again: true });
    expect(checkForm(FORMS.cores, { used: null })).toEqual({ used: null });
    const change = { tags: [' noon '], remedies: ['as-linear' as const], options: { sunLux: 90_000 } };
    expect(checkForm(FORMS.changeSky, change)).toEqual({ ...change, tags: ['noon'] });
  });

  it.each<[keyof typeof FORMS, unknown, RegExp]>([
    ['rename', { name: ' ' }, /"name"/],
    ['rename', {}, /"name" is required/],
    ['rename', { name: 'a'.repeat(81) }, /"name" length/],
    ['saveRig', { base: '3', rig: {} }, /"base" must be a number/],
    ['saveRig', { base: 1, rig: [] }, /"rig"/],
    ['bake', { only: [] }, /"only"/],
    ['bake', { only: 'Floor' }, /"only" must be an array/],
    ['bake', { whole: 'true' }, /"whole" must be a boolean/],
    ['changeBake', {}, /paused/],
    ['changeBake', { paused: true, again: true }, /again/],
    ['changeBake', { early: false }, /"early" must be \[true\]/],
    ['changeBake', { pinned: 'yes' }, /"pinned" must be a boolean/],
    ['keepBaking', {}, /"on" is required/],
    ['cores', { used: 0.5 }, /"used"/],
    ['changeSky', { remedies: ['magic'] }, /"remedies\[0\]" must be one of/],
    ['changeSky', { remedies: 'as-linear' }, /"remedies" must be an array/],
    ['changeSky', { tags: [7] }, /"tags\[0\]" must be a string/],
    ['changeSky', { house: 1 }, /"house"/],
    ['changeSky', { options: { sunLux: -1 } }, /"options.sunLux"/],
    ['changeSky', { options: { glow: 1 } }, /"options.glow" is not allowed/],
    ['fetchSky', { address: 'http://a' }, /"item" is required/],
  ])('of %s is not met by %j', (form, body, words) => {
    expect(() => checkForm(FORMS[form] as (typeof FORMS)['rename'], body)).toThrow(words);
  });
});
