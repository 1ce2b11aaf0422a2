import { database } from "@/server/database";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { storedText } from "@/server/pieces";

/** What is stored of a piece, as it is: of one that is damaged, all there is. */
export const GET = route<{ id: string }>((_request, { id }) => {
  const text = storedText(database(), id);
  if (text === null) throw new HttpFault(404, "There is no such piece; it may have been deleted.");
  return new Response(text, {
    headers: {
      "content-type": "text/plain; charset=utf-8",
      "content-disposition": `attachment; filename="damaged-${id}.txt"`,
    },
  });
});
