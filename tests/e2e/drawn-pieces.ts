/** Demo pieces of which the shelf draws pictures in tests; those of the others would keep software rendering busy. */
export const DRAWN = ["Turning seed head", "Petri rings", "Jar ring"];
