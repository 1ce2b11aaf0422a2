import { shippedStarter } from "@/server/demo";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";

/** The document that a new piece begins with. */
export const GET = route<{ name: string }>((_request, { name }) => {
  const document = shippedStarter(name);
  if (!document) throw new HttpFault(404, `There is no starter "${name}".`);
  return Response.json({ document });
});
