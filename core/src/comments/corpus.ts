/** A comment as somebody might write it, and whether it is spam. Written for this program; nobody's words. */
export interface Sample {
  text: string;
  spam: boolean;
}

const FINE = `
Thank you for this, I had been doing it the wrong way round for years.
We had the same trouble last winter and it turned out to be the hose clip.
Lovely piece. My grandmother used to tell us about that mill.
Does this also work with the older pump, or only with the new one?
I think the distance is more like three miles if you count the loop.
There is a small mistake in the second paragraph: it should be 1794, not 1974.
We walked this on Sunday with two children and a dog, and all of them want to go again.
Could you say where the photograph was taken? It looks familiar.
I disagree about the knots. The bowline has never let me down.
Great read as always. Looking forward to the next part.
The recipe works with pearl barley as well, but give it twenty minutes more.
I was there when they opened it. It rained the whole day and nobody minded.
Please do more of these interviews, they are the best thing on here.
My engine makes exactly that noise when it is cold. Should I worry?
The map link on this page leads to the wrong bridge.
What a sad story. Thank you for writing it down.
We tried your advice and the pump runs again. You saved us the price of a new one.
Is the footpath open again after the flood? Somebody told me that it is closed until April.
I would add a drop of vinegar, but apart from that it is the way my mother made it.
Has anybody tried this with a steel roof? Ours sweats more than the old wooden one did.
My husband says that I should write to you about the heron, so here I am.
You forgot the little bridge! It is the best part of the whole walk.
Sorry for the late answer, I was away. Yes, the key is at the shop.
The photographs are wonderful, the light in the third one above all.
How much did the repair cost in the end, if I may ask?
I remember him well. He sold us our first bicycle and never said a word too many.
This is the first explanation of it that I have understood. Thank you.
Can you recommend a book about the history of the reservoirs?
We moored there last week. The ring by the third bollard is loose, take care.
I have made it three times now and the children ask for it.
Not sure I agree, but it made me think, and that is worth something.
Which camera do you use? The colours are just as they are in the evening there.
The old name of that bridge was Cuckoo Bridge, at least that is what we called it.
Is there a version of this that I can print? My father does not read on a screen.
I laughed out loud at the part about the goose.
When will the next walk be? I could not find it in the calendar.
Number four does not work on ours, the thread is imperial.
Thanks, that answers my question. I had looked everywhere.
I wrote about the same mill some years ago: https://notes.example.org/mills
The council has a page on the closure: https://council.example.gov.uk/closures
You might like the survey maps here, they are free: https://maps.example.org/survey
I am sorry to hear that. He will be missed along the whole cut.
It was a cold morning but your text made it warmer.
Do you think that it will be repaired before Easter?
A tip for the next time: put the paper in before the oil.
I love this blog. I read it with my tea every morning before work.
The tea room is shut on Mondays now, we stood before the door.
We did it in the other direction and it was much easier.
Would you use the same paint below the waterline?
My compliments to the writer. A whole life in six hundred words.
`;

const SPAM = `
Great post! Visit my site for cheap watches http://best-watches.shop
Buy cheap pills online without prescription http://pills4you.biz
I made $5000 working from home in one week! Click here http://earn-fast.xyz
Best SEO services, first page of search results guaranteed. http://rank-now.top
Nice article. Check out our online casino, 200% bonus http://lucky-spin.casino
Hot singles in your area are waiting for you http://meet-tonight.click
Get 10000 followers for only $9 http://follow-boost.xyz
Win a free phone now!!! Limited offer http://free-phones.win
Hello dear, I am a prince and need your help to transfer 10 million dollars.
Lose weight fast with this one trick! http://slim-quick.shop http://slim-quick.shop/order
Very informative post. We sell replica handbags at the lowest price http://bags-outlet.shop
Earn money online, no experience needed, guaranteed income daily http://easy-income.top
Crypto investment with 300% profit in 24 hours. Contact us now http://coin-double.xyz
Cheap essays written by experts, order now and save 50% http://essay-king.biz
Your website could rank higher. Buy quality backlinks from us http://backlinks-pro.top
Loans without credit check, money in your account today http://instant-loan.click
Thanks for sharing this amazing article. casino slots free spins bonus http://slots-win.casino
Download free movies and games full version crack http://free-cracks.xyz
Buy followers, likes and views at the best price!!! http://social-panel.top
Amazing discount on designer shoes, free shipping worldwide http://shoe-sale.shop
Click here to claim your prize, you have been selected!!! http://claim-prize.win
Work from home and make money fast, join now for free http://home-cash.biz
Forex signals with 95% accuracy, join our channel today http://forex-gain.xyz
Excellent blog! Online pharmacy, best price, no prescription, fast delivery http://rx-cheap.biz
Increase your traffic with our SEO package, only $49 per month http://seo-deal.top
Free gift card, just click the link and fill in the form http://gift-free.click
I was poor, then I met this trader who doubled my bitcoin. Contact him on the app.
Best betting tips, guaranteed win every day http://bet-sure.win
Sexy girls live webcam free http://live-cams.click http://live-cams.click/join
Guaranteed approval, low rates, apply now http://quick-credit.xyz
Buy real passports and driving licences online http://documents-fast.biz
Wow, great article, keep it up! cheap hosting unlimited 90% discount http://host-cheap.top
Make $300 per day with this simple method http://method-cash.xyz
Replica watches luxury brands best quality wholesale http://watch-copy.shop
Investment opportunity: guaranteed return of 20% every week, no risk http://safe-profit.top
Free spins, no deposit, claim your bonus now!!! http://spin-bonus.casino
We offer cheap email lists, millions of addresses, order today http://bulk-mail.biz
Miracle cream removes wrinkles in 3 days, order now http://young-skin.shop
Get rich quick, the secret that banks hide from you http://bank-secret.xyz
Unlock any phone, cheap codes, instant delivery http://unlock-now.click
Congratulations! You are the winner of our lottery, send your bank details to claim.
Top rated online casino, real money, join free today http://royal-bets.casino
Cheap flights and hotel discount codes here http://deal-trips.top http://deal-trips.top/sale
Natural pills for men, satisfaction guaranteed, discreet shipping http://man-power.biz
Hire a hacker to recover lost bitcoin, guaranteed results, contact now
Buy verified accounts in bulk, lowest price, instant delivery http://accounts-bulk.xyz
Best VPN discount 80% off today only http://vpn-offer.click
Nice post admin. Visit us for luxury escorts http://vip-girls.click
Your computer is infected! Download our free cleaner now http://pc-clean.win
Increase sales with our marketing software, free trial, click here http://lead-magic.top
`;

const lines = (text: string, spam: boolean): Sample[] =>
  text
    .trim()
    .split('\n')
    .map((line) => ({ text: line, spam }));

export const COMMENT_CORPUS: readonly Sample[] = [...lines(FINE, false), ...lines(SPAM, true)];
