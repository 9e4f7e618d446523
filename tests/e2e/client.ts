const passwords = { mira: 'copper-and-crimp', tomas: 'second-row-fifth', ada: 'nothing-left-open' };
type Who = keyof typeof passwords;

/** Somebody at the application's address without a browser: cookies and the token that changes must carry. */
export class Client {
  private static readonly known = new Map<string, Client>();
  person = '';
  private token = '';
  private cookies = new Map<string, string>();

  private constructor(private readonly url: string) {}

  /** The session that this person has there, or a new one. */
  static async signIn(url: string, who: Who): Promise<Client> {
    const name = `${url} ${who}`;
    const known = Client.known.get(name);
    if (known) return known;
    const client = new Client(url);
    await client.look();
    await client.post('/api/session', { signIn: who, password: passwords[who] });
    await client.look();
    Client.known.set(name, client);
    return client;
  }

  /** Sessions at an address are made anew. */
  static forget(url: string) {
    for (const name of Client.known.keys()) if (name.startsWith(`${url} `)) Client.known.delete(name);
  }

  get<T>(path: string): Promise<T> {
    return this.send<T>('GET', path);
  }

  post<T>(path: string, body: unknown): Promise<T> {
    return this.send<T>('POST', path, body);
  }

  put<T>(path: string, body: unknown, version: number): Promise<T> {
    return this.send<T>('PUT', path, body, version);
  }

  delete(path: string): Promise<unknown> {
    return this.send('DELETE', path);
  }

  /** The session as a browser keeps it. */
  storageState() {
    const { hostname } = new URL(this.url);
    const cookie = ([name, value]: [string, string]) => ({ name, value, domain: hostname, path: '/', expires: -1, httpOnly: true, secure: false, sameSite: 'Strict' as const });
    return { cookies: [...this.cookies].map(cookie), origins: [] };
  }

  private async look() {
    const session = await this.get<{ token: string; person: { id: string } | null }>('/api/session');
    this.token = session.token;
    this.person = session.person?.id ?? '';
  }

  private async send<T>(method: string, path: string, body?: unknown, version?: number): Promise<T> {
    const answer = await fetch(this.url + path, {
      method,
      headers: {
        'Content-Type': 'application/json',
        ...(version === undefined ? {} : { 'If-Match': `"${version}"` }),
        'X-Wise-Loom-Token': this.token,
        Cookie: [...this.cookies].map(([k, v]) => `${k}=${v}`).join('; '),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    for (const cookie of answer.headers.getSetCookie()) {
      const [pair = ''] = cookie.split(';');
      const at = pair.indexOf('=');
      this.cookies.set(pair.slice(0, at), pair.slice(at + 1));
    }
    const text = await answer.text();
    if (!answer.ok) throw new Error(`${method} ${path} answered ${answer.status}: ${text.slice(0, 200)}`);
    return (text ? JSON.parse(text) : undefined) as T;
  }
}
