from tests.browser.conftest import *
from tests.browser.pages.accounts import SignIn
import time
COUNT="""
const box=document.querySelector('.panel')||document.querySelector('main');
const out=[];
function vis(e){const r=e.getBoundingClientRect();return e.checkVisibility({contentVisibilityAuto:true,checkVisibilityCSS:true})&&r.width>1&&r.height>1&&r.bottom>0&&r.top<innerHeight}
let words=0,controls=0;
const root=document.getElementById('panel')||document.body;
const w=document.createTreeWalker(root,NodeFilter.SHOW_TEXT);
while(w.nextNode()){const p=w.currentNode.parentElement;if(!p||p.closest('option,script,style'))continue;if(vis(p)&&w.currentNode.textContent.trim())words+=w.currentNode.textContent.trim().split(/\\s+/).length}
for(const c of root.querySelectorAll('button,a[href],input:not([type=hidden]),select,textarea,summary'))if(vis(c))controls++;
return [root.id||root.tagName,words,controls,root.innerText.split(/\\s+/).length];
"""
def test_counts(browser):
    farms = SignIn(browser).open().demo()
    bench = farms.open_plan("Terrace ring")
    for s in ("stock","ground","strands","power","earth","volts","parts","build","log","trace"):
        bench.stage(s.capitalize()) if False else browser.driver.get(browser.driver.current_url.rsplit('/',1)[0]+'/'+s)
        time.sleep(4)
        print(s, browser.driver.execute_script(COUNT))
        browser.driver.save_screenshot(f"/tmp/w/st_{s}.png")
