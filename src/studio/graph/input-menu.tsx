"use client";
import { ContextMenu } from "radix-ui";
import { type ReactNode, useState } from "react";
import { exposeEdit } from "@/core/capsules/ports";
import { joinAddress } from "@/core/document/links";
import { canBeKeyed, keyAt } from "@/core/keys/track";
import { catalogue } from "@/core/nodes/catalogue";
import type { AnyInput } from "@/core/nodes/define";
import { Dialog } from "@/ui/dialog";
import { NumberField } from "@/ui/number-field";
import { settingAt, unkeyedEdit } from "../state/keyed-edits";
import { definitionOfNode, nodeOf, useStudio, useStudioStore } from "../state/store";
import {
  driveEdit,
  driversOf,
  followEdit,
  valueAsText,
  valueFromText,
  valuesOffered,
} from "./cards/input-edits";
import { toggleKey } from "./cards/key-mark";
import { portLabel } from "./cards/value-control";
import { Item, MENU, Sub } from "./menu-items";

export const NO_BORDER = "The capsule has no node for its inputs any more; undo its removal first.";

/** The row of an output. */
export const outputData = (node: string, output: string) => ({
  "data-output-of": node,
  "data-output": output,
});

/** The row of an input: what the menu opens for. */
export const rowData = (node: string, input: string) => ({ "data-input-of": node, "data-input": input });

interface Row {
  readonly node: string;
  readonly name: string;
  readonly input: AnyInput;
  readonly linked: boolean;
}

interface OutputRow {
  readonly node: string;
  readonly port: string;
}

/** The menu where there is neither an input nor an output. */
interface Elsewhere {
  readonly label: string;
  readonly items: ReactNode;
  readonly onOpen?: (event: MouseEvent) => void;
}

interface InputMenuAreaProps {
  readonly children: ReactNode;
  readonly elsewhere: Elsewhere;
}

/** What can be done with an input's value or with an output, on its row: one menu for all rows of an area. */
export function InputMenuArea({ children, elsewhere }: InputMenuAreaProps) {
  const store = useStudioStore();
  const [row, setRow] = useState<Row | null>(null);
  const [output, setOutput] = useState<OutputRow | null>(null);
  const [limiting, setLimiting] = useState(false);
  const find = (target: EventTarget): Row | null => {
    const { inputOf: node = "", input: name = "" } =
      (target as HTMLElement).closest<HTMLElement>("[data-input]")?.dataset ?? {};
    const input: AnyInput | undefined = definitionOfNode(store.getState(), node)?.inputs[name];
    const { graph } = store.getState().opened.document;
    const linked = graph.links.some(({ to }) => to === joinAddress(node, name));
    return input ? { node, name, input, linked } : null;
  };
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger
        className="contents"
        onContextMenu={(event) => {
          const found = find(event.target);
          const { outputOf, output: port } =
            (event.target as HTMLElement).closest<HTMLElement>("[data-output]")?.dataset ?? {};
          const leaving = outputOf && port ? { node: outputOf, port } : null;
          setRow(found);
          setOutput(leaving);
          if (!found && !leaving) elsewhere.onOpen?.(event.nativeEvent);
        }}
      >
        {children}
      </ContextMenu.Trigger>
      {row && (
        <ContextMenu.Portal>
          <ContextMenu.Content
            className={MENU}
            aria-label={`${portLabel(row.name, row.input)} of ${row.node}`}
          >
            <MenuItems {...row} onLimits={() => setLimiting(true)} />
          </ContextMenu.Content>
        </ContextMenu.Portal>
      )}
      {output && (
        <ContextMenu.Portal>
          <ContextMenu.Content className={MENU} aria-label={`${output.port} of ${output.node}`}>
            <OutputItems {...output} />
          </ContextMenu.Content>
        </ContextMenu.Portal>
      )}
      {!row && !output && (
        <ContextMenu.Portal>
          <ContextMenu.Content className={MENU} aria-label={elsewhere.label}>
            {elsewhere.items}
          </ContextMenu.Content>
        </ContextMenu.Portal>
      )}
      {limiting && row && <Limits {...row} onClose={() => setLimiting(false)} />}
    </ContextMenu.Root>
  );
}

function OutputItems({ node, port }: OutputRow) {
  const { opened, peek, set, select } = useStudioStore().getState();
  const path = opened.prefix + node;
  const isPeeked = peek?.node === path && peek.port === port;
  return (
    <>
      <Item
        title={isPeeked ? "Back to the result" : "Peek at it"}
        run={() => set({ peek: isPeeked ? null : { node: path, port } })}
      />
      <Item
        title="Show its values"
        run={() => {
          select([node]);
          set({ drawer: "values" });
        }}
      />
    </>
  );
}

type MenuItemsProps = Row & { readonly onLimits: () => void };

function MenuItems({ node, name, input, linked, onLimits }: MenuItemsProps) {
  const store = useStudioStore();
  const state = store.getState();
  const { document, prefix, capsule } = state.opened;
  const address = joinAddress(node, name);
  const found = document.graph.nodes.find(({ id }) => id === node);
  const set = found?.set[name];
  const track = found?.keys?.[name];
  const { frame } = store.time.getState();
  const value = settingAt(found, name, input, frame);
  const keyable = canBeKeyed(input) && !linked;
  const drivers = driversOf(input);
  const offered = valuesOffered(document, node, name);
  const paste = async () => {
    const text = await navigator.clipboard.readText().catch(() => "");
    const pasted = valueFromText(input, text);
    if (pasted.ok) state.edit({ kind: "set-input", node, input: name, value: pasted.value });
    else state.set({ notice: pasted.what });
  };
  const isVector = input.kind === "vector" || input.kind === "rotation";
  const locked = state.locked.has(prefix + address);
  const lock = () => {
    const next = new Set(state.locked);
    if (locked) next.delete(prefix + address);
    else next.add(prefix + address);
    state.set({ locked: next });
  };
  const hasValue = input.kind !== "shape" && !input.implicit;
  return (
    <>
      {(drivers.length > 0 || keyable) && (
        <Sub title="Drive this with">
          {keyable && !track && (
            <Item
              title="Keys, the first one here"
              run={() => {
                toggleKey(store, node, name, input);
                state.set({ tracksOpen: true });
              }}
            />
          )}
          {drivers.map((type) => (
            <Item
              key={type}
              title={catalogue.get(type)?.title ?? type}
              run={() => {
                const driven = driveEdit(document, node, name, type);
                if (!driven) return;
                state.edit(driven.edit);
                store.getState().select([driven.id]);
              }}
            />
          ))}
        </Sub>
      )}
      {keyable && track && (
        <>
          <Item
            title={keyAt(track, frame) ? "Take the key at this frame away" : "Make a key at this frame"}
            run={() => toggleKey(store, node, name, input)}
          />
          <Item title="Take all keys away" run={() => state.edit(unkeyedEdit(node, name, value))} />
        </>
      )}
      {offered.length > 0 && (
        <Sub title="Take the value of">
          {offered.map((source) => (
            <Item
              key={source}
              title={source.replace(".", ", ")}
              run={() => state.edit(followEdit(document, node, name, source))}
            />
          ))}
        </Sub>
      )}
      {linked && (
        <Item
          title="Take the link away"
          run={() =>
            state.edit({ kind: "remove", links: document.graph.links.filter(({ to }) => to === address) })
          }
        />
      )}
      {hasValue && !linked && (
        <>
          <Item title="Copy the value" run={() => void navigator.clipboard.writeText(valueAsText(value))} />
          <Item title="Paste a value" run={() => void paste()} />
          <Item
            title="Back to the default"
            disabled={set === undefined && !track}
            run={() => state.edit({ kind: "set-input", node, input: name })}
          />
        </>
      )}
      {isVector && <Item title={locked ? "Let the parts go" : "Lock the parts together"} run={lock} />}
      {input.soft && <Item title="Limits of the slider …" run={onLimits} />}
      {capsule !== null && !linked && (
        <Item
          title="Make it an input of the capsule"
          run={() => {
            const edit = exposeEdit(state.document, capsule, address);
            if (edit) state.editPiece(edit);
            else state.set({ notice: NO_BORDER });
          }}
        />
      )}
      {capsule === null && hasValue && !linked && (
        <DialItem address={address} label={portLabel(name, input)} />
      )}
    </>
  );
}

function DialItem({ address, label }: { address: string; label: string }) {
  const { document, editPiece: edit } = useStudioStore().getState();
  const dial = document.dials.find((d) => d.input === address);
  return dial ? (
    <Item title="Take it off the dials" run={() => edit({ kind: "remove", dials: [dial] })} />
  ) : (
    <Item
      title="Make it a dial"
      run={() =>
        edit({ kind: "add", dials: [{ item: { label, input: address }, index: document.dials.length }] })
      }
    />
  );
}

type LimitsProps = Pick<Row, "node" | "name" | "input"> & { readonly onClose: () => void };

/** Limits of a slider as the designer wants them; typed values may still pass them. */
function Limits({ node, name, input, onClose }: LimitsProps) {
  const store = useStudioStore();
  const own = useStudio((s) => nodeOf(s, node)?.limits?.[name]);
  const [low, high] = own ?? input.soft ?? [0, 1];
  const set = (limits: readonly [number, number] | undefined, dragging = false) => {
    store
      .getState()
      .edit(
        { kind: "set-limits", node, input: name, limits },
        dragging ? `limits ${node}.${name}` : undefined,
      );
  };
  const field = (label: string, value: number, change: (to: number, dragging: boolean) => void) => (
    <NumberField
      className="w-24"
      label={label}
      value={value}
      onChange={change}
      onDragEnd={() => store.getState().endGroup()}
    />
  );
  return (
    <Dialog open title={`Slider of ${portLabel(name, input)}`} onClose={onClose} className="w-[320px]">
      <div className="flex items-center gap-2 text-12">
        {field("From", low, (to, d) => set([Math.min(to, high), high], d))} to
        {field("To", high, (to, d) => set([low, Math.max(to, low)], d))}
        <button
          type="button"
          className="ml-auto rounded border border-rule px-2 py-0.5 disabled:opacity-40"
          disabled={!own}
          onClick={() => set(undefined)}
        >
          As declared
        </button>
      </div>
      <p className="mt-2 text-11 text-faint">
        Typed values may pass them
        {input.min !== undefined || input.max !== undefined ? " up to the hard limits" : ""}.
      </p>
    </Dialog>
  );
}
