import { wallBroken } from './walls.mjs';

describe('the walls between the folders', () => {
  it('let arrows run one way', () => {
    expect(wallBroken('core/bake/gather.ts', 'core/sky')).toBeNull();
    expect(wallBroken('core/bake/gather.ts', 'core/bake/stems')).toBeNull();
    expect(wallBroken('server/web/index.ts', 'core/units')).toBeNull();
    expect(wallBroken('app/page.tsx', 'studio')).toBeNull();
  });

  it('stop what runs against them', () => {
    expect(wallBroken('core/sky/bands.ts', 'core/bake')).toMatch('core/sky may not import from core/bake');
    expect(wallBroken('core/units/angles.ts', 'server/data')).toMatch('may not import from server');
    expect(wallBroken('studio/Studio.tsx', 'server/stores')).toMatch('studio may not import from server');
    expect(wallBroken('server/web/index.ts', 'studio/api/client')).toMatch('server may not import from studio');
  });

  it('let no one past the face of a folder of core', () => {
    expect(wallBroken('server/work/handlers.ts', 'core/bake/gather')).toMatch('its face');
  });

  it('let a test reach the tools that tests share', () => {
    expect(wallBroken('core/bake/gather.test.ts', 'tests/lib/level')).toBeNull();
    expect(wallBroken('core/bake/gather.ts', 'tests/lib/level')).not.toBeNull();
  });
});
