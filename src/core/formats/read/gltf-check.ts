/**
 * What a glTF file (2.0) says of itself, held against what it is before anything is made of it: numbers of parts that are not there,
 * counts that its bytes cannot hold, nodes that hold themselves, meshes placed without end.
 */
import { z } from "zod";
import { faultOf } from "../../document/schema-fault";
import { FormatError } from "../format-error";

const index = z.int().min(0);
const indices = z.array(index);
const named = { name: z.string().optional() };
const numbers = (length: number) => z.array(z.number()).length(length).optional();

const gltfSchema = z.looseObject({
  asset: z.looseObject({ version: z.string() }),
  extensionsRequired: z.array(z.string()).optional(),
  scene: index.optional(),
  scenes: z.array(z.looseObject({ nodes: indices.optional() })).optional(),
  nodes: z
    .array(
      z.looseObject({
        ...named,
        mesh: index.optional(),
        children: indices.optional(),
        matrix: numbers(16),
        translation: numbers(3),
        rotation: numbers(4),
        scale: numbers(3),
      }),
    )
    .optional(),
  meshes: z
    .array(
      z.looseObject({
        ...named,
        primitives: z.array(
          z.looseObject({
            attributes: z.record(z.string(), index),
            indices: index.optional(),
            material: index.optional(),
            mode: z.int().min(0).max(6).optional(),
          }),
        ),
      }),
    )
    .optional(),
  materials: z.array(z.looseObject({})).optional(),
  accessors: z
    .array(
      z.looseObject({
        bufferView: index.optional(),
        byteOffset: index.optional(),
        componentType: z.number(),
        type: z.string(),
        count: index,
        sparse: z
          .looseObject({
            count: index,
            indices: z.looseObject({
              bufferView: index,
              byteOffset: index.optional(),
              componentType: z.number(),
            }),
            values: z.looseObject({ bufferView: index, byteOffset: index.optional() }),
          })
          .optional(),
      }),
    )
    .optional(),
  bufferViews: z
    .array(
      z.looseObject({
        buffer: index,
        byteOffset: index.optional(),
        byteLength: index,
        byteStride: z.int().min(4).max(252).optional(),
      }),
    )
    .optional(),
  buffers: z.array(z.looseObject({ byteLength: index, uri: z.string().optional() })).optional(),
});

type Gltf = z.infer<typeof gltfSchema>;

/** Bytes of a component, and components of an element (glTF 2.0 § 3.6.2.2). */
const COMPONENT_BYTES: Readonly<Record<number, number>> = {
  5120: 1,
  5121: 1,
  5122: 2,
  5123: 2,
  5125: 4,
  5126: 4,
};
const COMPONENTS: Readonly<Record<string, number>> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
};

/** Ways of packing that need a library of their own. */
const PACKED = ["KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_meshopt_compression"];

/** Corners of all meshes as they are placed, at most. */
const MOST_CORNERS = 12_000_000;

/**
 * @param bytes of the whole file
 * @param binary bytes of a GLB's binary part; null where there is none
 * @throws FormatError naming the part
 */
export function checkGltf(raw: unknown, bytes: number, binary: number | null): void {
  const parsed = gltfSchema.safeParse(raw);
  if (!parsed.success) {
    const { where, what } = faultOf(parsed.error.issues[0], raw);
    throw new FormatError(`its part "${where}" is not as glTF has it: ${what}.`);
  }
  const gltf = parsed.data;
  if (gltf.asset.version !== "2.0") throw new FormatError("it does not say that it is glTF 2.0.");
  const packed = gltf.extensionsRequired?.find((name) => PACKED.includes(name));
  if (packed) throw new FormatError(`it is compressed (${packed}). Save it without compression.`);
  checkBuffers(gltf, binary);
  gltf.accessors?.forEach((accessor, i) => {
    checkAccessor(gltf, accessor, i, bytes);
  });
  gltf.meshes?.forEach(({ primitives }, i) => {
    const where = `mesh ${i}`;
    for (const { attributes, indices, material } of primitives) {
      for (const [name, accessor] of Object.entries(attributes)) {
        there(gltf.accessors, accessor, "accessor", `${where}, ${name}`);
        const vertices = gltf.accessors?.[attributes.POSITION]?.count;
        if (vertices !== undefined && gltf.accessors && gltf.accessors[accessor].count < vertices)
          throw new FormatError(`${where}: ${name} has fewer elements than there are positions.`);
      }
      if (indices !== undefined) there(gltf.accessors, indices, "accessor", `${where}, its indices`);
      if (material !== undefined) there(gltf.materials, material, "material", where);
    }
  });
  checkNodes(gltf);
}

function there(list: readonly unknown[] | undefined, index: number, what: string, where: string): void {
  const count = list?.length ?? 0;
  if (index >= count) throw new FormatError(`${where} names ${what} ${index}, and there are ${count}.`);
}

function checkBuffers({ buffers, bufferViews }: Gltf, binary: number | null): void {
  buffers?.forEach(({ uri, byteLength }, i) => {
    const room =
      uri === undefined ? (i === 0 ? (binary ?? 0) : 0) : uri.startsWith("data:") ? uri.length : null;
    if (room !== null && byteLength > room)
      throw new FormatError(`buffer ${i} promises ${byteLength} bytes, and ${room} are there.`);
  });
  bufferViews?.forEach(({ buffer, byteOffset = 0, byteLength }, i) => {
    there(buffers, buffer, "buffer", `buffer view ${i}`);
    const room = buffers?.[buffer].byteLength ?? 0;
    if (byteOffset + byteLength > room)
      throw new FormatError(`buffer view ${i} reaches to byte ${byteOffset + byteLength} of ${room}.`);
  });
}

function checkAccessor(
  { bufferViews }: Gltf,
  { bufferView, byteOffset = 0, componentType, type, count, sparse }: NonNullable<Gltf["accessors"]>[number],
  i: number,
  bytes: number,
): void {
  const where = `accessor ${i}`;
  const size = COMPONENT_BYTES[componentType];
  const components = Object.hasOwn(COMPONENTS, type) ? COMPONENTS[type] : undefined;
  if (!size || !components)
    throw new FormatError(`${where} has the type ${type} of ${componentType}, which glTF does not know.`);
  const fits = (view: number, from: number, elements: number, element: number) => {
    there(bufferViews, view, "buffer view", where);
    const { byteLength = 0, byteStride = element } = bufferViews?.[view] ?? {};
    const end = elements > 0 ? from + (elements - 1) * byteStride + element : from;
    if (end > byteLength)
      throw new FormatError(
        `${where} promises ${elements} elements, more than its ${byteLength} bytes can hold.`,
      );
  };
  if (bufferView !== undefined) fits(bufferView, byteOffset, count, size * components);
  // Without data all of it is 0; nothing honest has more of that than the file has bytes.
  else if (count > bytes)
    throw new FormatError(`${where} promises ${count} elements without data, in a file of ${bytes} bytes.`);
  if (!sparse) return;
  if (sparse.count > count)
    throw new FormatError(`${where} replaces ${sparse.count} of its ${count} elements.`);
  fits(
    sparse.indices.bufferView,
    sparse.indices.byteOffset ?? 0,
    sparse.count,
    COMPONENT_BYTES[sparse.indices.componentType] ?? 1,
  );
  fits(sparse.values.bufferView, sparse.values.byteOffset ?? 0, sparse.count, size * components);
}

/** Every node is in one place at most (glTF 2.0 § 3.5.2), so going through them ends, and counts what will be made. */
function checkNodes(gltf: Gltf): void {
  const { nodes, scenes, scene } = gltf;
  if (scene !== undefined) there(scenes, scene, "scene", "it");
  const parents = new Map<number, number>();
  nodes?.forEach(({ mesh, children = [] }, i) => {
    if (mesh !== undefined) there(gltf.meshes, mesh, "mesh", `node ${i}`);
    for (const child of children) {
      there(nodes, child, "node", `node ${i}`);
      if (parents.has(child) || child === i) throw new FormatError(`node ${child} is in two places at once.`);
      parents.set(child, i);
    }
  });
  for (const [i, { nodes: roots = [] }] of (scenes ?? []).entries())
    for (const root of roots) {
      there(nodes, root, "node", `scene ${i}`);
      if (parents.has(root)) throw new FormatError(`node ${root} is in two places at once.`);
    }
  const used = new Set<number>();
  const waiting = [...((scenes ?? [])[scene ?? 0]?.nodes ?? [])];
  let corners = 0;
  for (let i = waiting.pop(); i !== undefined; i = waiting.pop()) {
    if (used.has(i)) throw new FormatError(`node ${i} is in two places at once.`);
    used.add(i);
    const { mesh, children = [] } = nodes?.[i] ?? {};
    waiting.push(...children);
    corners += mesh === undefined ? 0 : cornersOf(gltf, mesh);
    if (corners > MOST_CORNERS)
      throw new FormatError(
        `its meshes, as they are placed, have more than ${MOST_CORNERS / 1e6} million corners. Place fewer, or simpler ones.`,
      );
  }
}

const cornersOf = ({ meshes, accessors }: Gltf, mesh: number): number =>
  (meshes?.[mesh].primitives ?? []).reduce(
    (sum, { indices, attributes }) => sum + (accessors?.[indices ?? attributes.POSITION]?.count ?? 0),
    0,
  );
