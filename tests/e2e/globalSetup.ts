import { ShopServer } from './server.ts';

/** One shop for all specs; specs that break it open their own. */
export default async function globalSetup() {
  const shop = await ShopServer.open('e2e');
  process.env.SHOP_URL = shop.url;
  return () => shop.close();
}
