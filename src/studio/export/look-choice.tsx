"use client";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { Switch } from "@/ui/switch";
import { type Blur, type FrameLook, sized } from "./frame-look";

interface LookChoiceProps {
  readonly look: FrameLook;
  readonly size: readonly [number, number];
  /** Pixels along its longer side at most. */
  readonly most: number;
  /** Whether what is made can be clear in places. */
  readonly mayBeClear: boolean;
  readonly onChange: (look: FrameLook) => void;
}

/** How many looks a frame may be gathered of; the last one stops where its noise is not seen in bytes any more. */
const LOOKS = [
  { label: "one, as while it plays", looks: 1, noise: 0 },
  { label: "16: fine edges", looks: 16, noise: 0 },
  { label: "64: soft shadows and focus", looks: 64, noise: 0 },
  { label: "256: as smooth as they get", looks: 256, noise: 0 },
  { label: "until no noise is seen, 1024 at most", looks: 1024, noise: 0.7 / 255 },
];

const ROW = "flex min-h-7 items-center justify-between gap-2";

/** Size, edges, mixed moments and ground of pictures that are taken away. */
export function LookChoice({ look, size, most, mayBeClear, onChange }: LookChoiceProps) {
  const set = (change: Partial<FrameLook>) => onChange({ ...look, ...change });
  return (
    <div className="mt-3 text-12">
      <div className={ROW}>
        Size
        <span className="flex items-center gap-2">
          <NumberField
            className="w-16"
            label="Width in pixels"
            value={look.width}
            soft={[160, most]}
            min={16}
            max={most}
            whole
            onChange={(width) => onChange(sized(look, width, size, most))}
            onDragEnd={() => undefined}
          />
          <span className="tabular text-faint">× {look.height}</span>
        </span>
      </div>
      <div className={ROW}>
        Looks
        <Select
          label="Looks gathered in a frame"
          className="h-7 w-[240px] text-12"
          value={String(look.looks)}
          choices={LOOKS.map(({ looks, label }) => ({ value: String(looks), label }))}
          onChange={(value) => {
            const { looks, noise } = LOOKS.find((one) => String(one.looks) === value) ?? LOOKS[0];
            set({ looks, noise });
          }}
        />
      </div>
      <div className={ROW}>
        Motion blur
        <span className="flex items-center gap-2">
          <NumberField
            className="w-12"
            label="Moments mixed in a frame"
            value={look.samples}
            soft={[1, 32]}
            min={1}
            max={64}
            whole
            onChange={(samples) => set({ samples })}
            onDragEnd={() => undefined}
          />
          <span className="text-faint">{look.samples > 1 ? "moments, shutter" : "moment, so none"}</span>
          {look.samples > 1 && (
            <NumberField
              className="w-14"
              label="Shutter angle"
              value={look.shutter}
              soft={[0, 360]}
              min={0}
              max={720}
              unit="°"
              onChange={(shutter) => set({ shutter })}
              onDragEnd={() => undefined}
            />
          )}
        </span>
      </div>
      {look.samples > 1 && (
        <div className={ROW}>
          Moments
          <Select
            label="Where the moments come from"
            className="h-7 w-[240px] text-12"
            value={look.blur}
            choices={[
              { value: "moments", label: "worked out, one by one" },
              { value: "velocities", label: "the frame along its velocities" },
            ]}
            onChange={(blur) => set({ blur: blur as Blur })}
          />
        </div>
      )}
      {mayBeClear && (
        <div className={ROW}>
          Transparent ground
          <Switch
            label="Transparent ground"
            value={look.transparent}
            onChange={(transparent) => set({ transparent })}
          />
        </div>
      )}
    </div>
  );
}
