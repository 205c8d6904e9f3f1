import {
  GLSL3,
  HalfFloatType,
  LinearFilter,
  Mesh,
  NoBlending,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  WebGLRenderTarget,
  type IUniform,
  type WebGLRenderer,
} from 'three';

const VERTEX = /* glsl */ `
out vec2 uv0;
void main() {
  uv0 = uv;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

/** Half floats end at 65 504: what is brighter, the sun's disc alone, is shown as that. */
export const BRIGHTEST = 60_000;

/** A material that is drawn over a whole picture: `uv0` is where in it, 0..1 along and up, `outColor` what comes out. */
export const screenMaterial = (
  fragment: string,
  uniforms: Record<string, IUniform>,
  defines: Record<string, string | number> = {},
): ShaderMaterial =>
  new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: `in vec2 uv0;\nlayout(location = 0) out vec4 outColor;\n${fragment}`,
    uniforms,
    defines,
    depthTest: false,
    depthWrite: false,
    // Else three.js writes its tone curve into the source besides ours.
    toneMapped: false,
    blending: NoBlending,
  });

/** A half-float picture that is drawn into and looked up smoothly. */
export const halfTarget = (width: number, height: number): WebGLRenderTarget =>
  new WebGLRenderTarget(Math.max(1, width), Math.max(1, height), {
    type: HalfFloatType,
    minFilter: LinearFilter,
    magFilter: LinearFilter,
    depthBuffer: false,
  });

/** Draws materials over whole pictures. */
export class FullScreen {
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera();
  private readonly quad = new Mesh(new PlaneGeometry(2, 2));

  constructor(private readonly renderer: WebGLRenderer) {
    this.quad.frustumCulled = false;
    this.scene.add(this.quad);
  }

  /** @param target null is the screen */
  draw(material: ShaderMaterial, target: WebGLRenderTarget | null): void {
    this.quad.material = material;
    this.renderer.setRenderTarget(target);
    this.renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    this.quad.geometry.dispose();
  }
}
