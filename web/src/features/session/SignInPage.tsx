import { useQueryClient } from '@tanstack/react-query';
import type { Schemas } from '../../api/client';
import { Button } from '../../ui/Controls';
import { SignInForm } from './SignInForm';
import { useSignIn } from './useSignIn';

/** The only page a stranger sees. */
export function SignInPage({ demo }: { demo: Schemas['DemoPersonView'][] }) {
  const client = useQueryClient();
  const enter = useSignIn(() => client.resetQueries());
  return (
    <main className="mx-auto grid min-h-screen max-w-5xl content-center gap-10 p-6 md:grid-cols-[1.1fr_1fr]">
      <div className="self-center">
        <svg viewBox="0 0 400 150" className="mb-6 w-full max-w-md text-copper" aria-hidden="true">
          <g fill="none" stroke="currentColor" strokeLinecap="round">
            <path d="M5 75H395" strokeWidth="9" />
            <g strokeWidth="2.5">
              <path d="M60 75 40 25M120 75 120 20M200 75 190 25M270 75 285 22M340 75 365 28M90 75 80 125M160 75 165 128M235 75 230 122M310 75 325 126" />
            </g>
          </g>
        </svg>
        <h1 className="text-5xl font-bold">Wise Loom</h1>
        <p className="mt-3 max-w-md text-xl">
          Every pin goes where it should, and nowhere else. Measured, explained and written down.
        </p>
      </div>
      <div className="space-y-6 self-center">
        <SignInForm enter={enter} />
        {demo.length > 0 && (
          <section aria-labelledby="demo">
            <h2 id="demo" className="mb-2 font-bold">
              The demo shop’s people
            </h2>
            <ul className="grid gap-2">
              {demo.map((p) => (
                <li key={p.signIn}>
                  <Button
                    className="w-full justify-between"
                    onClick={() => enter.mutate({ signIn: p.signIn, password: p.password })}
                  >
                    <span>{p.name}</span>
                    <span className="font-normal text-soft">
                      {p.role} · {p.signIn} / {p.password}
                    </span>
                  </Button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </main>
  );
}
