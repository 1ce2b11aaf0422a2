/** The part of gltf-validator that the tests use; the package ships no types. */
declare module "gltf-validator" {
  export function validateBytes(bytes: Uint8Array): Promise<{
    issues: {
      numErrors: number;
      numWarnings: number;
      messages: { code: string; severity: number; message: string }[];
    };
    info: { animationCount: number; totalVertexCount: number };
  }>;
}
