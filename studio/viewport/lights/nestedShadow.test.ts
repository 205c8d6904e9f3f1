import { DirectionalLight, Vector3, Vector4 } from 'three';
import { SHADOW_MAPS } from '../../../core/rig';
import { NestedShadow, middleOf, nestedReaches, withNestedShadows } from './nestedShadow';

/** Where a point lies in a map of a shadow, 0..1 each way. */
function placeIn(shadow: NestedShadow, map: number, point: Vector3): Vector3 {
  const camera = shadow.getCamera(map);
  return point.clone().project(camera).multiplyScalar(0.5).addScalar(0.5);
}

describe('nested shadow maps', () => {
  const light = new DirectionalLight();
  light.position.set(30, 80, 20);
  light.target.position.set(4, 0, -3);
  light.updateMatrixWorld();
  light.target.updateMatrixWorld();
  const shadow = new NestedShadow();
  shadow.reach(80, 400);
  shadow.updateMatrices(light);

  it('reach four times as far each, about one point', () => {
    expect(nestedReaches(80)).toEqual([5, 20, 80]);
    for (let map = 0; map < SHADOW_MAPS; map++) {
      const middle = placeIn(shadow, map, light.target.position);
      expect(middle.x).toBeCloseTo(0.5, 6);
      expect(middle.y).toBeCloseTo(0.5, 6);
    }
  });

  it('have the places that the widest one tells of', () => {
    const point = new Vector3(6, 1, -2);
    const widest = point.clone().applyMatrix4(shadow.matrix);
    nestedReaches(80).forEach((reach, map) => {
      const own = placeIn(shadow, map, point);
      expect((widest.x - 0.5) * (80 / reach) + 0.5).toBeCloseTo(own.x, 5);
      expect((widest.y - 0.5) * (80 / reach) + 0.5).toBeCloseTo(own.y, 5);
      expect(widest.z).toBeCloseTo(own.z, 6);
    });
  });

  it('lie before the eye, and reach what is looked at', () => {
    const [eye, focus] = [new Vector3(0, 2, 0), new Vector3(0, 2, -30)];
    expect(middleOf({ eye, focus }, 80).toArray()).toEqual([0, 2, -4]);
    expect(middleOf({ eye, focus: new Vector3(0, 2, -1) }, 80).z).toBeCloseTo(-1, 9);
    expect(middleOf({ eye, focus: new Vector3(0, 2, -300) }, 80).z).toBeCloseTo(-260, 9);
    expect(middleOf({ eye, focus: eye }, 80).toArray()).toEqual([0, 2, 0]);
  });

  it('lie beside one another, and one alone is drawn where it is measured', () => {
    const tiles = () => Array.from({ length: shadow.getViewportCount() }, (_, face) => shadow.getViewport(face).toArray());
    expect(shadow.getFrameExtents().toArray()).toEqual([3, 1]);
    expect(tiles()).toEqual([0, 1, 2].map((k) => new Vector4(k, 0, 1, 1).toArray()));
    shadow.only = 1;
    expect(tiles()).toEqual([[1, 0, 1, 1]]);
    expect(shadow.getCamera(0).right).toBe(20);
    shadow.only = null;
  });

  it('are asked where three.js asks for the shadow of a directional light', () => {
    expect(() => withNestedShadows('void main() {}')).toThrow(/in another way/);
  });
});
