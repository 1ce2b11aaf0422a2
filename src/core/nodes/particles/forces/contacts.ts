import { forceOf } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, integer, number, out } from "../../ports";

export const contacts = defineNode({
  type: "contacts",
  family: "simulate",
  title: "Contacts",
  about: "Particles are balls that run into each other, bounce and lie beside each other.",
  synonyms: [
    "collide with each other",
    "particle against particle",
    "billiard",
    "bump",
    "pile",
    "self collision",
    "keep apart",
    "marbles",
  ],
  inputs: {
    radius: field.number({
      default: 0.1,
      min: 0,
      soft: [0, 0.5],
      unit: "units",
      about: "Of each ball; link an attribute or a random number for balls of many sizes.",
    }),
    mass: field.number({
      default: 1,
      min: 0,
      soft: [0, 10],
      about: "What is heavy is moved less by what is light.",
    }),
    bounce: number({
      default: 0.4,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "What part of the speed against each other comes back: 1 as billiard balls, 0 as clay.",
    }),
    rounds: integer({
      default: 4,
      min: 1,
      max: 32,
      soft: [1, 16],
      about: "How often in a step they give on what they got, and are moved apart; piles want more.",
    }),
  },
  outputs: { force: out.force("For Particles: after the move, before walls and grounds.") },
  summary: ({ radius, bounce }) => `radius ${radius}, bounce ${bounce}`,
  evaluate: ({ radius, mass, bounce, rounds }) => ({
    force: forceOf("contacts", "Contacts", { radius: [radius], mass: [mass] }, { bounce, rounds }),
  }),
});
