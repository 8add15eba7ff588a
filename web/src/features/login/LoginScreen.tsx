import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, ApiError } from "../../api/client";
import { Button } from "../../ui/button";

/** A path of ours, read as the browser reads it: it takes a backslash for a slash, so that what begins with a path may lead anywhere. */
function ours(to: string): string {
  const at = URL.parse(to, window.location.origin);
  return at?.origin === window.location.origin ? at.pathname + at.search + at.hash : "/";
}

/** Asked once where the server is reached from other machines. */
export default function LoginScreen() {
  const [params] = useSearchParams();
  const [token, setToken] = useState("");
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const to = ours(params.get("to") ?? "/");
  const enter = () => {
    setBusy(true);
    api
      .login(token)
      // Whole, so that everything asks anew.
      .then(() => window.location.assign(to))
      .catch((error: Error) => {
        setWrong(error instanceof ApiError ? error.detail : error.message);
        setBusy(false);
      });
  };
  return (
    <main className="mx-auto flex min-h-screen max-w-sm flex-col justify-center gap-3 p-6">
      <h1 className="text-2xl font-bold">Hardy Ember</h1>
      <p className="text-sm text-pale">This server is open to other machines and asks for its token once. Whoever started it knows it.</p>
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          enter();
        }}
      >
        <input type="password" autoFocus autoComplete="current-password" aria-label="Token" value={token} onChange={(e) => setToken(e.target.value)} />
        <Button look="primary" type="submit" disabled={busy || token === ""}>
          Enter
        </Button>
      </form>
      {wrong && (
        <p role="alert" className="text-sm text-caution">
          ▲ {wrong}
        </p>
      )}
    </main>
  );
}
