import { shippedRecipes } from "@/server/demo";
import { route } from "@/server/http";

/** All recipes, whole: they are small, and one that is put in must not wait. */
export const GET = route(() =>
  Response.json({ recipes: [...shippedRecipes()].map(([id, document]) => ({ id, document })) }),
);
