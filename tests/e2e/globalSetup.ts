import { mkdirSync, writeFileSync } from 'node:fs';
import { Client } from './client.ts';
import { ShopServer } from './server.ts';

/** One shop for all specs; specs that break it open their own. The lead's session is kept for tests that only look. */
export default async function globalSetup() {
  const shop = await ShopServer.open('e2e');
  process.env.SHOP_URL = shop.url;
  const lead = await Client.signIn(shop.url, 'ada');
  mkdirSync('results', { recursive: true });
  writeFileSync('results/ada.json', JSON.stringify(lead.storageState()));
  return () => shop.close();
}
