const browsers = [
  [/Firefox\//, 'Firefox'],
  [/Edg\//, 'Edge'],
  [/Chrome\//, 'Chrome'],
  [/Safari\//, 'Safari'],
] as const;
const systems = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'macOS'],
  [/Linux/, 'Linux'],
] as const;

/** What a browser calls itself, short enough to tell two of them apart. */
export function browserName(agent: string): string {
  const find = (of: readonly (readonly [RegExp, string])[]) => of.find(([looks]) => looks.test(agent))?.[1];
  const [browser, system] = [find(browsers), find(systems)];
  return browser && system ? `${browser} on ${system}` : (browser ?? system ?? (agent.slice(0, 40) || 'unknown'));
}
