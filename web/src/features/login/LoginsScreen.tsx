import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api } from "../../api/client";
import { Button } from "../../ui/button";
import { Page } from "../../ui/page";

const day = (time: string) => `${time.slice(0, 10)} ${time.slice(11, 16)}Z`;

/** Every browser that has given the token: which one, since when, and a way to throw it out. */
export default function LoginsScreen() {
  const client = useQueryClient();
  const logins = useQuery({ queryKey: ["logins"], queryFn: api.logins });
  const end = useMutation({ mutationFn: api.endLogin, onSettled: () => client.invalidateQueries({ queryKey: ["logins"] }) });
  const out = useMutation({ mutationFn: api.logout, onSuccess: () => window.location.assign("/login") });
  const error = logins.error ?? end.error ?? out.error;
  return (
    <Page screen="logins">
      <div className="mx-auto flex max-w-3xl flex-col gap-3">
        <div className="flex items-end gap-3">
          <h1 className="mr-auto text-2xl font-bold">Logins</h1>
          <Button onClick={() => out.mutate()} disabled={out.isPending} data-testid="log-out">
            Log out here
          </Button>
        </div>
        <p className="text-sm text-pale">
          Every browser that gave this server’s token. End a login that you do not know: its open runs stand still at once. Then start the server with another token.
        </p>
        {error && (
          <p role="alert" className="text-sm text-caution">
            ▲ {error.message}
          </p>
        )}
        <ul className="flex flex-col gap-2">
          {logins.data?.map((login) => (
            <li key={login.id} data-testid="login" className="flex flex-wrap items-center gap-3 rounded border border-line p-3 text-sm">
              <div className="min-w-0 flex-1">
                <p>
                  {login.address}
                  {login.own && <span className="ml-2 text-heather">this browser</span>}
                </p>
                <p className="truncate text-xs text-pale">{login.browser || "a program that does not name itself"}</p>
                <p className="text-xs text-pale">
                  In since {day(login.created)}, ends {day(login.ends)}
                </p>
              </div>
              {!login.own && (
                <Button size="small" onClick={() => end.mutate(login.id)} disabled={end.isPending}>
                  End this login
                </Button>
              )}
            </li>
          ))}
        </ul>
      </div>
    </Page>
  );
}
