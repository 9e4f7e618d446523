import { expect, test } from 'vitest';
import { inTurn } from './inTurn';

/** Things to say, each of which ends when it is told to. */
function talk() {
  const said: string[] = [];
  const ends: (() => void)[] = [];
  const thing = (name: string) => () => {
    said.push(name);
    return new Promise<void>((resolve, reject) =>
      ends.push(name === 'lost' ? () => reject(new Error('lost')) : resolve),
    );
  };
  const end = async () => {
    ends.shift()?.();
    for (let turns = 0; turns < 8; turns++) await Promise.resolve();
  };
  return { said, thing, end };
}

test('one goes at once, what comes meanwhile waits, and only the last of it is said', async () => {
  const { said, thing, end } = talk();
  const turn = inTurn();
  for (const name of ['step 4', 'step 3', 'step 2']) turn.say(thing(name));
  expect(said).toEqual(['step 4']);
  await end();
  expect(said).toEqual(['step 4', 'step 2']);
  await end();
  turn.say(thing('step 1'));
  expect(said).toEqual(['step 4', 'step 2', 'step 1']);
});

test('what fails holds up nothing', async () => {
  const { said, thing, end } = talk();
  const turn = inTurn();
  turn.say(thing('lost'));
  turn.say(thing('step 2'));
  await end();
  expect(said).toEqual(['lost', 'step 2']);
});

test('when the page goes away, what waits is said at once, and only once', async () => {
  const { said, thing, end } = talk();
  const turn = inTurn();
  turn.say(thing('step 4'));
  turn.say(thing('step 3'));
  turn.leave();
  expect(said).toEqual(['step 4', 'step 3']);
  await end();
  turn.leave();
  expect(said).toEqual(['step 4', 'step 3']);
});
