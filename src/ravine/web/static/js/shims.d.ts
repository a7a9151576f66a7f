// The vendored libraries ship without types; their names are known, what they hold is not checked.
declare module "three" {
  export type Box3 = any; export type InstancedMesh = any; export type Vector3 = any;
  export const BackSide: any, Box3: any, BoxGeometry: any, MeshStandardMaterial: any, PCFShadowMap: any, PMREMGenerator: any, ShadowMaterial: any, BufferAttribute: any, BufferGeometry: any, Color: any, DirectionalLight: any, DoubleSide: any,
    Group: any, HemisphereLight: any, InstancedMesh: any, LineDashedMaterial: any, MeshBasicMaterial: any, Path: any, Plane: any, PlaneGeometry: any, AddEquation: any, HalfFloatType: any, CustomBlending: any, OneFactor: any, OneMinusSrcAlphaFactor: any, SrcAlphaFactor: any, OrthographicCamera: any, WebGLRenderTarget: any, SRGBColorSpace: any, TextureLoader: any,
    Points: any, PointsMaterial: any, Shape: any, ShapeGeometry: any, LineBasicMaterial: any, LineSegments: any, EdgesGeometry: any, Matrix4: any, Mesh: any,
    MeshLambertMaterial: any, PerspectiveCamera: any, Quaternion: any, Ray: any, Raycaster: any, Scene: any, ShaderMaterial: any,
    Spherical: any, Vector2: any, Vector3: any, WebGLRenderer: any;
  export type Raycaster = any;
}
declare module "three-mesh-bvh" { export const MeshBVH: any, SAH: any; }
