/**
 * Many frames as one binary glTF 2.0 (§ 3.11, "Animations"): a node for each copy, moved by linear samplers of translation,
 * rotation and scale. Shapes are shared. Copies are told apart by the id of the site they stand on; one that is not there at
 * a frame has a scale of 0. Colours are those of the frame at which a copy first comes, as glTF animates no materials; curves
 * are left out.
 */
import { type Document, type Mesh as GlbMesh, WebIO } from "@gltf-transform/core";
import { type DrawBatch, drawingOf } from "../../draw/drawing";
import { sitesOfCopies } from "../../draw/site-of-copy";
import { type DrawGeometry, triangulate } from "../../draw/triangulate";
import type { Mesh } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { LOOK_WIDTH } from "../../geometry/surface-look";
import type { TextureSet } from "../../geometry/textures";
import { FormatError } from "../format-error";
import { NO_FACES } from "./bake";
import { byLook, LOOK_EXTENSIONS, type Look, meshOf, NO_LOOK, partsByLook } from "./glb-looks";
import { decompose, newScene, vectors } from "./glb-parts";
import { WrittenTextures } from "./glb-textures";

/** Copies that one file moves; for more, viewers want a file a frame. */
export const MOST_ANIMATED = 2000;

/** What a copy is at the frames so far: 3, 4 and 3 numbers each. */
interface Track {
  readonly color: readonly number[];
  readonly look: Look;
  readonly translation: number[];
  readonly rotation: number[];
  readonly scale: number[];
}

/** One of the meshes that are cloned, in the order in which they are drawn. */
interface Part {
  mesh: Mesh;
  readonly geometry: DrawGeometry;
  readonly tracks: Map<string, Track>;
}

export class AnimatedGlb {
  private readonly times: number[] = [];
  private readonly parts: Part[] = [];
  private readonly textures = new Map<number, TextureSet>();
  private copies = 0;

  /**
   * @param seconds since the first frame; each more than the last
   * @param textures pictures that lie on surfaces
   * @throws FormatError naming the frame
   */
  add(shape: Shape, frame: number, seconds: number, textures: readonly TextureSet[] = []): void {
    for (const set of textures) this.textures.set(set.number, set);
    drawingOf(shape).batches.forEach((batch, i) => {
      this.addBatch(this.partOf(batch.mesh, i, frame), batch, keysOf(shape, batch.mesh), frame);
    });
    this.times.push(seconds);
    for (const { tracks } of this.parts)
      for (const track of tracks.values()) leaveOut(track, this.times.length);
  }

  /** @throws FormatError when there is nothing to write */
  async write(name: string): Promise<Uint8Array> {
    if (this.copies === 0) throw new FormatError(NO_FACES);
    const { document, scene } = newScene(name);
    const textures = new WrittenTextures(document, [...this.textures.values()]);
    const times = vectors(document, "SCALAR", Float32Array.from(this.times));
    const animation = document.createAnimation(name);
    this.parts.forEach((part, i) => {
      const glbMeshOf = meshes(document, part.geometry, textures, `mesh-${i + 1}`);
      for (const [key, track] of part.tracks) {
        const node = document.createNode(`mesh-${i + 1}-${key}`).setMesh(glbMeshOf(track.color, track.look));
        scene.addChild(node);
        node.setTranslation(track.translation.slice(0, 3) as [number, number, number]);
        node.setRotation(track.rotation.slice(0, 4) as [number, number, number, number]);
        node.setScale(track.scale.slice(0, 3) as [number, number, number]);
        for (const path of ["translation", "rotation", "scale"] as const) {
          const size = path === "rotation" ? 4 : 3;
          if (stands(track[path], size)) continue;
          const values = vectors(document, size === 4 ? "VEC4" : "VEC3", Float32Array.from(track[path]));
          const sampler = document.createAnimationSampler().setInput(times).setOutput(values);
          animation.addSampler(sampler.setInterpolation("LINEAR"));
          animation.addChannel(
            document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler),
          );
        }
      }
    });
    if (animation.listChannels().length === 0) animation.dispose();
    return new WebIO().registerExtensions(LOOK_EXTENSIONS).writeBinary(document);
  }

  private partOf(mesh: Mesh, i: number, frame: number): Part {
    const known = this.parts[i];
    if (!known) {
      const part = { mesh, geometry: triangulate(mesh, true), tracks: new Map() };
      this.parts[i] = part;
      return part;
    }
    if (known.mesh === mesh) return known;
    if (!isSame(known.geometry, triangulate(mesh, true)))
      throw new FormatError(
        `At frame ${frame} a shape that is cloned is not what it was before. An animation moves copies but does not reshape them: take a GLB for each frame instead.`,
      );
    known.mesh = mesh;
    return known;
  }

  private addBatch({ tracks }: Part, batch: DrawBatch, keys: readonly string[], frame: number): void {
    const { matrices, colors, looks, count } = batch;
    const { translation, rotation, scale, sheared } = decompose(matrices, count);
    if (sheared)
      throw new FormatError(
        `At frame ${frame} a copy is sheared (an uneven scale on turned clones), which no node can hold. Take a GLB with baked copies for each frame instead.`,
      );
    for (let i = 0; i < count; i++) {
      let track = tracks.get(keys[i]);
      if (!track) {
        if (++this.copies > MOST_ANIMATED)
          throw new FormatError(
            `At frame ${frame} there are more than ${MOST_ANIMATED} copies, the most that one file moves. Take a GLB for each frame instead.`,
          );
        const color = Array.from(colors.subarray(i * 4, i * 4 + 4));
        const look = looks
          ? byLook(looks.subarray(i * LOOK_WIDTH, (i + 1) * LOOK_WIDTH), 1)[0].look
          : NO_LOOK;
        track = { color, look, translation: [], rotation: [], scale: [] };
        tracks.set(keys[i], track);
        // It comes where it will be.
        for (let before = 0; before < this.times.length; before++)
          pose(track, translation, rotation, null, i);
      }
      pose(track, translation, rotation, scale, i);
    }
  }
}

/** @param scale null for nothing to be seen */
function pose(
  track: Track,
  translation: Float32Array,
  rotation: Float32Array,
  scale: Float32Array | null,
  i: number,
): void {
  const last = track.rotation.slice(-4);
  let q = Array.from(rotation.subarray(i * 4, i * 4 + 4));
  // A rotation and its opposite are one turn: the one that is nearer to the last goes the short way.
  if (last.reduce((sum, v, l) => sum + v * q[l], 0) < 0) q = q.map((v) => -v);
  track.translation.push(...translation.subarray(i * 3, i * 3 + 3));
  track.rotation.push(...q);
  track.scale.push(...(scale ? scale.subarray(i * 3, i * 3 + 3) : [0, 0, 0]));
}

/** A copy that is not there at the last of so many frames stays where it was, with a scale of 0. */
function leaveOut(track: Track, frames: number): void {
  if (track.scale.length === frames * 3) return;
  track.translation.push(...track.translation.slice(-3));
  track.rotation.push(...track.rotation.slice(-4));
  track.scale.push(0, 0, 0);
}

/** Names of copies that stay from frame to frame: the id of their outermost site, and which of its copies they are. */
function keysOf(shape: Shape, mesh: Mesh): string[] {
  const ids = shape.sites?.columns.id?.lanes[0];
  const met = new Map<number, number>();
  return Array.from(sitesOfCopies(shape, mesh), (site) => {
    const id = site < 0 ? -1 : (ids?.[site] ?? site);
    const nth = met.get(id) ?? 0;
    met.set(id, nth + 1);
    return nth === 0 ? String(id) : `${id}-${nth}`;
  });
}

const stands = (values: readonly number[], size: number): boolean =>
  values.every((v, i) => v === values[i % size]);

const isSame = (a: DrawGeometry, b: DrawGeometry): boolean =>
  a.positions.length === b.positions.length &&
  a.indices.length === b.indices.length &&
  a.positions.every((v, i) => v === b.positions[i]) &&
  a.indices.every((v, i) => v === b.indices[i]);

/** A mesh for each colour and thing that copies are made of; all share their vertices. */
function meshes(
  document: Document,
  geometry: DrawGeometry,
  textures: WrittenTextures,
  name: string,
): (color: readonly number[], look: Look) => GlbMesh {
  const known = new Map<string, GlbMesh>();
  const parts = partsByLook(document, geometry);
  return (color, look) => {
    const key = [...color, ...look].join(" ");
    const there = known.get(key);
    if (there) return there;
    const mesh = meshOf(document, parts, name, color, textures, look);
    known.set(key, mesh);
    return mesh;
  };
}
