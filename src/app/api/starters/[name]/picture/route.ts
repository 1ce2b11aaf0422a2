import { shippedStarter } from "@/server/demo";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { shippedPicture } from "@/server/shipped-pictures";

/** Its moving picture: frames side by side. */
export const GET = route<{ name: string }>((_request, { name }) => {
  const document = shippedStarter(name);
  const picture = document && shippedPicture(name, document);
  if (!picture) throw new HttpFault(404, `There is no picture of a starter "${name}".`);
  return new Response(new Uint8Array(picture), { headers: { "content-type": "image/webp" } });
});
