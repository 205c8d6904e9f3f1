import { DoubleSide, Mesh, NoToneMapping, Scene, ShaderMaterial, Vector2, WebGLRenderTarget, type Camera, type WebGLRenderer } from 'three';
import type { ObjectIndex } from '../level/objectIndex';
import { FullScreen, screenMaterial } from './fullScreen';

const NUMBER_VERTEX = /* glsl */ `void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`;
const NUMBER_FRAGMENT = /* glsl */ `
uniform vec2 number;
void main() { gl_FragColor = vec4(number, 0.0, 1.0); }`;
const LINE = /* glsl */ `
uniform sampler2D numbers;
uniform vec2 texel;
void main() {
  vec2 own = texture(numbers, uv0).rg;
  bool edge = false;
  // Outside of what is chosen, so that small things stay to be seen, and between two that touch.
  for (int x = -1; x <= 1; x++) for (int y = -1; y <= 1; y++) {
    vec2 other = texture(numbers, uv0 + vec2(x, y) * texel).rg;
    edge = edge || (other.r > 0.0 && any(greaterThan(abs(other - own), vec2(0.002))));
  }
  if (!edge) discard;
  outColor = vec4(0.553, 0.714, 0.353, 1.0);
}`;

/** Lines about the objects that are chosen, over the finished picture: also about those that stand behind others. */
export class ObjectOutlines {
  private readonly scene = new Scene();
  private readonly material = new ShaderMaterial({
    vertexShader: NUMBER_VERTEX,
    fragmentShader: NUMBER_FRAGMENT,
    uniforms: { number: { value: new Vector2() } },
    side: DoubleSide,
    toneMapped: false,
  });
  private readonly line = screenMaterial(LINE, { numbers: { value: null }, texel: { value: new Vector2() } });
  private target: WebGLRenderTarget | null = null;
  private screen: FullScreen | null = null;

  constructor() {
    this.scene.matrixWorldAutoUpdate = false;
  }

  /** Chooses what is outlined; each object has a number of its own, so that neighbours are told apart. */
  choose(index: ObjectIndex | null, names: Iterable<string>): void {
    this.scene.clear();
    let number = 0;
    for (const name of index ? names : []) {
      number = (number % 250) + 1;
      const value = new Vector2(number / 255, (250 - number) / 255);
      for (const { geometry, matrixWorld } of index!.meshesOf(name)) {
        const mesh = new Mesh(geometry, this.material);
        mesh.matrixWorld.copy(matrixWorld);
        mesh.onBeforeRender = () => {
          (this.material.uniforms.number!.value as Vector2).copy(value);
          this.material.uniformsNeedUpdate = true;
        };
        this.scene.add(mesh);
      }
    }
  }

  draw(renderer: WebGLRenderer, camera: Camera): void {
    if (this.scene.children.length === 0) return;
    const { x: width, y: height } = renderer.getDrawingBufferSize(new Vector2());
    if (this.target?.width !== width || this.target.height !== height) {
      this.target?.dispose();
      this.target = new WebGLRenderTarget(width, height);
    }
    this.screen ??= new FullScreen(renderer);
    const { shadowMap, autoClear, toneMapping } = renderer;
    const { autoUpdate } = shadowMap;
    Object.assign(renderer, { toneMapping: NoToneMapping, autoClear: true });
    shadowMap.autoUpdate = false;
    renderer.setRenderTarget(this.target);
    renderer.setClearColor(0x000000, 0);
    renderer.render(this.scene, camera);
    this.line.uniforms.numbers!.value = this.target.texture;
    (this.line.uniforms.texel!.value as Vector2).set(1 / width, 1 / height);
    renderer.autoClear = false;
    this.screen.draw(this.line, null);
    shadowMap.autoUpdate = autoUpdate;
    Object.assign(renderer, { autoClear, toneMapping });
  }

  dispose(): void {
    this.target?.dispose();
    this.screen?.dispose();
    this.material.dispose();
    this.line.dispose();
  }
}
