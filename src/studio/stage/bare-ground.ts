/** The ground of a stage on which nothing stands yet: faint lines a unit apart, with one unit marked. */
import * as THREE from "three";

const UNITS = 12;

export class BareGround {
  private readonly group = new THREE.Group();

  constructor(scene: THREE.Scene) {
    const lines = new THREE.GridHelper(UNITS, UNITS, "#5d7a6d", "#2f423a");
    lines.material.transparent = true;
    lines.material.opacity = 0.55;
    const unit = new THREE.Mesh(
      new THREE.BoxGeometry(1, 0.02, 0.03).translate(0.5, 0.01, 0),
      new THREE.MeshBasicMaterial({ color: "#f0b03a" }),
    );
    const label = labelled("1 unit");
    label.position.set(0.5, 0.3, 0);
    this.group.add(lines, unit, label);
    this.group.visible = false;
    scene.add(this.group);
  }

  show(visible: boolean): void {
    this.group.visible = visible;
  }

  dispose(): void {
    this.group.traverse((part) => {
      if (!(part instanceof THREE.Mesh || part instanceof THREE.LineSegments || part instanceof THREE.Sprite))
        return;
      part.geometry.dispose();
      if (part.material.map) part.material.map.dispose();
      part.material.dispose();
    });
  }
}

/** Words that always face the viewer. */
function labelled(words: string): THREE.Sprite {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [256, 64];
  const pen = canvas.getContext("2d");
  if (pen) {
    pen.font = '34px "Instrument Sans Variable", sans-serif';
    pen.textAlign = "center";
    pen.fillStyle = "#f0b03a";
    pen.fillText(words, 128, 44);
  }
  const map = new THREE.CanvasTexture(canvas);
  map.colorSpace = THREE.SRGBColorSpace;
  const sprite = new THREE.Sprite(new THREE.SpriteMaterial({ map, transparent: true, depthTest: false }));
  sprite.scale.set(1.1, 0.275, 1);
  return sprite;
}
