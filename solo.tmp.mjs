import('playwright-core').then(async({chromium})=>{
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--use-gl=angle','--use-angle=gl-egl','--ignore-gpu-blocklist']});
const p=await b.newPage({viewport:{width:1280,height:800}});
const list=await (await fetch('http://127.0.0.1:4170/api/projects')).json();
await p.goto('http://127.0.0.1:4170/projects/'+list[0].id);
const ok=()=>p.waitForSelector('[data-testid=picture][data-settled=true]',{timeout:90000});
await ok(); await p.keyboard.press('g'); await p.keyboard.press(process.argv[3]??'2'); await ok();
const n=process.argv[4]; if(n){await p.getByText('solo').nth(+n).click(); await p.waitForTimeout(3000); await ok();}
await p.screenshot({path:process.argv[2]});
await b.close();})
