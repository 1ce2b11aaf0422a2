"use client";
import { useStore } from "zustand";
import { Button } from "@/ui/button";
import { ProgressBar } from "@/ui/progress-bar";
import { goesOn, titleOf } from "./delivery";
import { deliveryQueue, forget, goOn, type Job, stopDelivery, takeThose } from "./delivery-queue";

const useDeliveries = (): readonly Job[] => useStore(deliveryQueue, ({ jobs }) => jobs);

/** Deliveries under way, waiting and left over. */
export function DeliveryList() {
  const jobs = useDeliveries();
  if (jobs.length === 0) return null;
  return (
    <ul aria-label="Deliveries" className="mt-3 grid gap-2 border-t border-rule pt-3">
      {jobs.map((job) => (
        <Row key={job.delivery.id} {...job} />
      ))}
    </ul>
  );
}

function Row({ delivery, state, done, total, left, what }: Job) {
  const { id } = delivery;
  const isOpen = state === "works" || state === "waits";
  return (
    <li className="text-12">
      <p className="truncate" title={titleOf(delivery)}>
        {titleOf(delivery)}
      </p>
      <div className="flex items-center gap-3">
        <ProgressBar className="min-w-0 flex-1" value={done} max={total} label="Frames written" />
        <span className="tabular text-faint">
          {state === "waits" ? "waits" : `${done} of ${total}`}
          {state === "works" && left !== null && `, ${leftText(left)}`}
        </span>
        {isOpen ? (
          <Button className="!h-6 text-12" onClick={() => stopDelivery(id)}>
            Stop
          </Button>
        ) : (
          <>
            <Button className="!h-6 text-12" onClick={() => void goOn(id)}>
              {goesOn(delivery) && done > 0 ? "Go on" : "Begin again"}
            </Button>
            {goesOn(delivery) && !delivery.folder && done > 0 && (
              <Button className="!h-6 text-12" onClick={() => void takeThose(id)}>
                Take those
              </Button>
            )}
            <Button className="!h-6 text-12" onClick={() => void forget(id)}>
              Forget
            </Button>
          </>
        )}
      </div>
      {what && (
        <p role="alert" className="mt-1 rounded border-alert border-l-2 bg-raised px-3 py-1.5">
          {what}
        </p>
      )}
    </li>
  );
}

function leftText(milliseconds: number): string {
  const seconds = Math.ceil(milliseconds / 1000);
  return seconds < 90 ? `${seconds} s left` : `${Math.ceil(seconds / 60)} min left`;
}

/** How far deliveries are, while any is under way or left over; opens them. */
export function DeliveryMark({ onOpen }: { readonly onOpen: () => void }) {
  const jobs = useDeliveries();
  if (jobs.length === 0) return null;
  const working = jobs.find(({ state }) => state === "works");
  const waiting = jobs.filter(({ state }) => state === "waits").length;
  return (
    <Button look="plain" className="tabular text-12 text-faint" onClick={onOpen}>
      {working
        ? `${working.done} of ${working.total} frames${waiting > 0 ? `, ${waiting} waiting` : ""}`
        : `${jobs.length} left over`}
    </Button>
  );
}
