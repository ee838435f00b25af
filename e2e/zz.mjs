import { chromium } from '@playwright/test';
import { existsSync } from 'node:fs';
const base='http://127.0.0.1:4971';
const browser = await chromium.launch({ executablePath: ['/usr/bin/chromium'].find(existsSync), args:['--no-sandbox'] });
const ctx = await browser.newContext({ baseURL: base, locale:'en-GB', viewport:{width:390,height:844}});
await ctx.request.post('/api/sign-in',{data:{email:'ilse@hallorin.example',password:'sunday-table'}});
const me = await (await ctx.request.get('/api/me')).json();
const members = await ctx.request.get('/api/members'); console.log(members.status(), (await members.text()).slice(0,600));
await browser.close();
