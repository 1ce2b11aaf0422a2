/** Set-up of all Jest tests: short columns stand in the kernels' memory too, and a column used too late is not a number. */
import { arenaRules } from "../src/core/kernels/arena";

arenaRules({ shortest: 8, poison: Number.NaN });
