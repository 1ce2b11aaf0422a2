import "@fontsource-variable/bricolage-grotesque";
import "@fontsource-variable/instrument-sans";
import "@fontsource-variable/jetbrains-mono";
import "./globals.css";
import type { Metadata } from "next";
import { headers } from "next/headers";
import type { ReactNode } from "react";
import { CutTitles } from "@/ui/cut-titles";
import { THEME_SCRIPT } from "@/ui/theme";

export const metadata: Metadata = { title: "Glemmo", description: "A studio for procedural motion design" };
/** Every page carries a nonce of its own for the content security policy. */
export const dynamic = "force-dynamic";

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get("x-nonce") ?? undefined;
  return (
    <html lang="en" data-theme="night" suppressHydrationWarning>
      <body>
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: our own constant; sets the theme before the first paint */}
        <script nonce={nonce} dangerouslySetInnerHTML={{ __html: THEME_SCRIPT }} suppressHydrationWarning />
        <CutTitles />
        {children}
      </body>
    </html>
  );
}
