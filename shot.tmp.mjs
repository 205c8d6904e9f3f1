import { chromium } from 'playwright-core';
const [,, out, ...keys] = process.argv;
const b = await chromium.launch({ executablePath:'/usr/bin/chromium', args:['--no-sandbox','--use-gl=angle','--use-angle=gl-egl','--ignore-gpu-blocklist']});
const p = await b.newPage({viewport:{width:1280,height:800}});
const list = await (await fetch('http://127.0.0.1:4170/api/projects')).json();
await p.goto('http://127.0.0.1:4170/projects/'+list[0].id);
await p.waitForSelector('[data-testid=picture][data-settled=true]',{timeout:90000});
for (const k of keys) {
  if (k.startsWith('click:')) await p.getByText(k.slice(6),{exact:false}).first().click();
  else if (k.startsWith('role:')) { const [,r,n]=k.split(':'); await p.getByRole(r,{name:n}).first().click(); }
  else if (k.startsWith('wait:')) await p.waitForTimeout(+k.slice(5));
  else if (k.startsWith('scroll:')) await p.getByText(k.slice(7)).first().scrollIntoViewIfNeeded();
  else await p.keyboard.press(k);
  await p.waitForTimeout(600);
  await p.waitForSelector('[data-testid=picture][data-settled=true]',{timeout:90000}).catch(()=>console.log('not settled'));
}
await p.waitForTimeout(1500);
await p.screenshot({path:out}); await b.close();
