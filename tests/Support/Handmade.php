<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** Pages written by hand, each in its own way; what belongs to the main text stands between ⟦ and ⟧. */
final readonly class Handmade
{
    private function __construct(
        public string $html,
        public string $text,
        public bool $isArticle,
        public ?string $title,
        public ?string $byline,
        public ?string $published,
        public ?string $language,
    ) {
    }

    /**
     * @return array<string, self>
     */
    public static function all(): array
    {
        $pages = [];
        foreach ([...self::articles(), ...self::more(), ...self::others()] as $name => [$html, $title, $byline, $published, $language]) {
            preg_match_all('/⟦(.*?)⟧/su', $html, $m);
            $text = trim((string) preg_replace(
                '/\s+/',
                ' ',
                html_entity_decode(strip_tags(str_replace('<', ' <', implode(' ', $m[1]))), \ENT_QUOTES | \ENT_HTML5, 'UTF-8'),
            ));
            $pages[$name] = new self(str_replace(['⟦', '⟧'], '', $html), $text, null !== $title, $title, $byline, $published, $language);
        }

        return $pages;
    }

    /**
     * @return array<string, array{string, string|null, string|null, string|null, string|null}>
     */
    private static function articles(): array
    {
        $p = [
            'Seven boats lay at the new pier on Sunday, and an eighth waited outside until there was room.',
            'Nobody had thought that so many would come: the harbour office had put out ropes for four.',
            'The pier was opened by Mira Oxley, who drove in the first pile nine years ago when she was still at school.',
            'It is two hundred and ten metres long, rests on forty piles of larch, and cost a third more than was planned.',
            'Critics say that the money would have been better spent on the sea wall, which gave way twice last winter.',
            '“A pier brings people, a wall keeps water out,” says the head of the council, “and this year we could pay for one of them.”',
        ];
        $all = static fn (string $open, string $close): string => $open.implode($close.$open, $p).$close;
        $links = static fn (int $n): string => implode(
            '',
            array_map(
                static fn (int $k): string => "<li><a href=/s/{$k}>"
                    .[
                        'Herring is back', 'Choir seeks basses', 'Crane slips again', 'Coal goes up', 'School gets a boat',
                        'Two lamps stolen', 'Fog for five days', 'Old net loft burns',
                    ][$k % 8]
                    .'</a></li>',
                range(1, $n),
            ),
        );

        return [
            'weekly' => [
                '<!doctype html><html lang=en><head><meta charset=utf-8><title>Pier opens with more boats than ropes · Torr'
                    .' Weekly</title><meta property="article:published_time" content="2025-05-04T17:20:00+01:00"></head><body><div'
                        .' class=top><a href=/>Torr Weekly</a><ul>'
                    .$links(7)
                    .'</ul></div><div class=wrap><div class=kicker>Harbour</div><h1>Pier opens with more boats than ropes</h1><div'
                        .' class=meta>By <a href=/u/7>Lena Hythe</a> · 4 May 2025 · 3 min</div><div class=share><a href=#>Share</a> <a'
                            .' href=#>Print</a></div><figure><img src=a.jpg><figcaption>The pier on Sunday. Picture: Lena'
                                .' Hythe</figcaption></figure>⟦'
                    .$all('<p>', '</p>')
                    .'⟧<div class=tags><a href=/t/1>pier</a> <a href=/t/2>harbour</a></div></div><div class=more><h3>More</h3><ul>'
                    .$links(8).'</ul></div><div class=foot>Torr Weekly, Rope Walk 2. All rights reserved.</div></body></html>',
                'Pier opens with more boats than ropes',
                'Lena Hythe',
                '2025-05-04',
                'en',
            ],
            'breaks' => [
                '<html><head><title>The pier</title></head><body><table width=100%><tr><td colspan=2><img src=head.gif><br><a'
                    .' href=/>Home</a> | <a href=/n>News</a> | <a href=/g>Guests</a></td></tr><tr><td width=150 valign=top><font size=1>'
                    .str_replace(['<li>', '</li>'], ['', '<br>'], $links(12))
                    .'</font></td><td><font size=5>The new pier</font><br><font size=2>⟦'.implode('<br><br>', $p)
                    .'⟧</font></td></tr><tr><td colspan=2><font size=1>Made with care. Last changed on 6 May'
                        .' 2025.</font></td></tr></table></body></html>',
                'The new pier',
                null,
                null,
                'en',
            ],
            'question' => [
                '<!doctype html><html lang=en><head><title>Why does my lamp smoke? - Lamp talk</title></head><body><header><a'
                    .' href=/>Lamp talk</a><form><input name=q></form></header><main><h1>Why does my lamp smoke?</h1><div'
                        .' class=post><div class=who><a href=/u/1>tern</a> asked on 2 March 2025</div><div class=text>⟦<p>I have an old'
                            .' stern lamp of brass, and since I cleaned it the glass goes black within an hour, whichever wick I'
                                .' take.</p><p>The oil is the same as before. I have cut the wick straight, washed the glass, and put'
                                    .' the lamp where there is no draught. What else can I try?</p>⟧</div></div><h2>2 answers</h2><div'
                                        .' class=post><div class=who><a href=/u/2>old_gull</a> on 3 March 2025</div><div'
                                            .' class=text>⟦<p>Look at the little holes under the burner. When you cleaned it, polish'
                                                .' went into them, and now the flame gets no air from below. A pin and some patience'
                                                    .' will do.</p>⟧</div></div><div class=post><div class=who><a href=/u/3>marram</a>'
                                                        .' on 5 March 2025</div><div class=text>⟦<p>Same with mine! It was the holes.'
                                                            .' Also let the wick soak for a whole day before you light it again, or the'
                                                                .' first hour will be black whatever you'
                                                                    .' do.</p>⟧</div></div></main><aside><h4>Like this</h4><ul>'
                    .$links(6).'</ul></aside></body></html>',
                'Why does my lamp smoke?',
                null,
                '2025-03-02',
                'en',
            ],
            'interview' => [
                '<!doctype html><html lang=de><head><title>„Der Wind hört nicht zu“ | Torrer Blatt</title></head><body><nav><ul>'.$links(5)
                    .'</ul></nav><article><header><p class=dach>Gespräch</p><h1>„Der Wind hört nicht zu“</h1><p class=autor>Von Jonas'
                        .' Reet</p><time datetime=2024-10-12>12. Oktober 2024</time></header>⟦<p>Die Seilmacherin Oda Fenn hört nach'
                            .' fünfzig Jahren auf. Ein Gespräch über Hanf, Hände und die Frage, wer weitermacht.</p><p><b>Frau Fenn,'
                                .' wann haben Sie Ihr erstes Seil gedreht?</b></p><p>Mit sieben. Mein Großvater hielt das eine Ende und'
                                    .' ich das andere, und wer zuerst losließ, musste abwaschen.</p><p><b>Was ist schwer'
                                        .' daran?</b></p><p>Dass der Wind nicht zuhört. Man will drehen, und er dreht mit, aber in die'
                                            .' andere Richtung. An solchen Tagen macht man Tee.</p><p><b>Wer führt die Seilerei'
                                                .' weiter?</b></p><p>Zwei aus der Stadt, die noch nie auf einem Boot waren. Ich finde'
                                                    .' das gut: Sie fragen nach allem.</p>⟧</article><section class=empf><h2>Das könnte'
                                                        .' Sie auch interessieren</h2><ul>'
                    .$links(8).'</ul></section></body></html>',
                '„Der Wind hört nicht zu“',
                'Jonas Reet',
                '2024-10-12',
                'de',
            ],
            'legal' => [
                '<!doctype html><html lang=en><title>Rules of the harbour of Torr</title><body><div id=nav><a href=/>Board</a><a'
                    .' href=/rules>Rules</a><a href=/tolls>Tolls</a></div><div id=c><h1>Rules of the harbour of Torr</h1>⟦<h2>1 Who they'
                        .' are for</h2><p>(1) These rules are for all boats that lie, load or land at Torr, whatever flag they'
                            .' fly.</p><p>(2) They are not for boats of the rescue service while it is at work.</p><h2>2'
                                .' Berths</h2><ol><li>Berths are given out by the harbour master, in the order in which boats come'
                                    .' in.</li><li>A berth that was left for more than two tides is free again.</li><li>Boats that leak'
                                        .' oil have to leave at once; the cost of cleaning is theirs.</li></ol><h2>3 Fires</h2><p>Open'
                                            .' fires on deck are forbidden from sunset on. Stoves below have to stand on'
                                                .' stone.</p>⟧</div><div id=f>Harbour board · Quay 1 · <a'
                                                    .' href=/imprint>Imprint</a></div></body></html>',
                'Rules of the harbour of Torr',
                null,
                null,
                'en',
            ],
            'live-blog' => [
                '<!doctype html><html lang=en><head><title>Gale: what happens now - Torr Weekly</title></head><body><header><nav>'.$links(6)
                    .'</nav></header><main><h1>Gale: what happens now</h1><p class=stand>⟦The gale has reached Torr. We report here'
                        .' until it is over.⟧</p><div class=entry><time>18:40</time><h3>⟦Ferry turns back⟧</h3>⟦<p>The evening ferry has'
                            .' turned round off Skerry Head and is on her way back to Saltmarch with sixty people, all'
                                .' well.</p>⟧</div><div class=entry><time>17:55</time><h3>⟦Roof of the net loft gone⟧</h3>⟦<p>The roof'
                                    .' of the old net loft has come down on the quay. Nobody was below. The street is closed as far as'
                                        .' the chapel.</p>⟧</div><div class=entry><time>17:10</time><h3>⟦School ends'
                                            .' early⟧</h3>⟦<p>Children were sent home at five, those from the north side by boat with'
                                                .' the harbour master while that was still possible.</p>⟧</div></main><div'
                                                    .' class=side><h2>Most read</h2><ol>'
                    .$links(8).'</ol></div></body></html>',
                'Gale: what happens now',
                null,
                null,
                'en',
            ],
            'comments-outweigh' => [
                '<!doctype html><html lang=en><head><title>A short word on coal</title></head><body><div class=blog><h2 class=title><a'
                    .' href=/p/9>A short word on coal</a></h2><div class=date>Posted on 14 January 2025 by Ruk Sallow</div><div'
                        .' class=entry>⟦<p>Coal went up again on Monday, by a sixth, and the yard says that it will not be the last time'
                            .' this winter.</p><p>I have burned peat for two weeks now. It smells better, gives less heat and needs a'
                                .' dry place, which is the hard part on this island.</p><p>If you have a shed to spare, write to'
                                    .' me.</p>⟧</div><div id=comments><h3>14 comments</h3>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<div class=comment><cite>reader{$n}</cite> <small>15 January 2025</small><p>I do not agree at all. We"
                                    .' have burned coal for forty years and my father before me, and if the yard asks too much then we'
                                        ." should order together from the mainland as we did in the strike, number {$n}.</p></div>",
                            range(1, 14),
                        ),
                    )
                    .'</div></div></body></html>',
                'A short word on coal',
                'Ruk Sallow',
                '2025-01-14',
                'en',
            ],
            'divs-only' => [
                '<!doctype html><html lang=en><head><title>Pier | S</title><meta name=author content="Lena Hythe"></head><body><div'
                    .' class=a1><div class=b2><div class=c3><a href=/1>One</a></div><div class=c3><a href=/2>Two</a></div></div><div'
                        .' class=b3><div class=x9><div class=y>Seven boats and one that waited</div><div class=z><div><div>⟦'
                    .implode('</div></div></div><div class=z><div><div>', $p)
                    .'⟧</div></div></div></div></div><div class=b4><div class=c3><a href=/a>About</a></div></div></div></body></html>',
                'Seven boats and one that waited',
                'Lena Hythe',
                null,
                'en',
            ],
            'interrupted' => [
                '<!doctype html><html lang=en><head><title>Pier opens - Torr Weekly</title></head><body><article><h1>Pier opens</h1><p'
                    .' class=by>Lena Hythe, 4.5.2025</p>⟦<p>'
                    .$p[0].'</p><p>'.$p[1]
                    .'</p>⟧<div class=ad><p>Advertisement</p><a href=/ad>Boots that keep dry, now a third off</a></div>⟦<p>'.$p[2]
                    .'</p>⟧<p class=readmore><a href=/s/2>Read also: Crane slips again</a></p>⟦<p>'.$p[3].'</p><p>'.$p[4]
                    .'</p>⟧<div class=nl><h4>Torr by mail</h4><p>Every morning the news of the island, free of charge.</p><form><input'
                        .' type=email><button>Sign up</button></form></div>⟦<p>'
                    .$p[5].'</p>⟧</article></body></html>',
                'Pier opens',
                'Lena Hythe',
                '2025-05-04',
                'en',
            ],
            'japanese' => [
                '<!doctype html><html lang=ja><head><meta charset=utf-8><title>新しい桟橋が完成｜トル新聞</title></head><body><ul class=nav><li><a'
                    .' href=/>ホーム</a></li><li><a href=/n>ニュース</a></li><li><a href=/t>潮位</a></li></ul><div class=main><h1>新しい桟橋が完成</h1><p'
                        .' class=date>2025年5月4日</p>⟦<p>トル島の新しい桟橋が日曜日に開通し、七隻の船が横付けした。八隻目は空きが出るまで沖で待った。</p><p>'
                            .'長さは二百十メートルで、落葉松の杭四十本に支えられている。費用は当初の予定より三割多くかかった。</p><p>'
                                .'島の議会では、昨冬に二度崩れた防波堤の修理を先にすべきだったとの声もある。村長は「今年はどちらか一つしか払えなかった」と話した。</p>⟧</div><div class=side><h2>'
                                    .'関連記事</h2><ul><li><a href=/1>クレーンまた滑る</a></li><li><a href=/2>石炭値上げ</a></li></ul></div><footer>'
                                        .'トル新聞社</footer></body></html>',
                '新しい桟橋が完成',
                null,
                '2025-05-04',
                'ja',
            ],
            'arabic' => [
                '<!doctype html><html lang=ar dir=rtl><head><meta charset=utf-8><title>افتتاح الرصيف الجديد - صحيفة'
                    .' تور</title></head><body><nav><a href=/>الرئيسية</a><a href=/n>أخبار</a></nav><div id=content><h1>افتتاح الرصيف'
                        .' الجديد</h1><div class=info>بقلم ليلى حسن | 4 مايو 2025</div>⟦<p>رست سبعة قوارب عند الرصيف الجديد يوم الأحد،'
                            .' وانتظر القارب الثامن في الخارج حتى خلا له مكان.</p><p>لم يتوقع أحد أن يأتي هذا العدد كله، فقد أعدّ مكتب'
                                .' الميناء حبالا لأربعة قوارب فقط.</p><p>يبلغ طول الرصيف مئتين وعشرة أمتار، وكلّف أكثر مما كان مخططا له'
                                    .' بالثلث. ويرى منتقدون أن المال كان أولى بجدار البحر الذي انهار مرتين في الشتاء'
                                        .' الماضي.</p>⟧</div><div id=rel><h3>اقرأ أيضا</h3><ul><li><a href=/1>الرافعة تنزلق من'
                                            .' جديد</a></li><li><a href=/2>الفحم يرتفع</a></li></ul></div></body></html>',
                'افتتاح الرصيف الجديد',
                'ليلى حسن',
                '2025-05-04',
                'ar',
            ],
            'greek' => [
                '<!doctype html><html lang=el><head><meta charset=utf-8><title>Άνοιξε ο νέος μόλος – Ο Φάρος</title></head><body><div'
                    .' class=menu><a href=/>Αρχική</a> <a href=/n>Νέα</a></div><div class=post><h1>Άνοιξε ο νέος μόλος</h1><span'
                        .' class=author>της Άννας Βρανά</span> <span class=d>4 Μαΐου 2025</span><div class=body>⟦<p>Επτά σκάφη έδεσαν'
                            .' την Κυριακή στον νέο μόλο, και ένα όγδοο περίμενε έξω ώσπου να βρεθεί θέση.</p><p>Κανείς δεν περίμενε'
                                .' τόσα: το λιμεναρχείο είχε ετοιμάσει σχοινιά για τέσσερα.</p><p>Ο μόλος έχει μήκος διακόσια δέκα μέτρα'
                                    .' και κόστισε ένα τρίτο παραπάνω από όσο είχε υπολογιστεί. Όσοι διαφωνούν λένε ότι τα χρήματα'
                                        .' έπρεπε να πάνε στον κυματοθραύστη, που έπεσε δύο φορές τον χειμώνα.</p>⟧</div></div><div'
                                            .' class=footer>Ο Φάρος, Προκυμαία 3</div></body></html>',
                'Άνοιξε ο νέος μόλος',
                'Άννας Βρανά',
                '2025-05-04',
                'el',
            ],
            'plain-notice' => [
                '<html><head><title>Harbour board: notice 12/2025</title></head><body><h3>Notice 12/2025</h3>⟦<p>From 1 June to 30 June'
                    .' the lift of the slipway is not in use. Its chain is taken out, looked at link by link, and put back.</p><p>Boats'
                        .' of up to five metres can be put in by hand at the north side. For larger ones, the crane of the yard can be'
                            .' had by the hour; ask there.</p><p>Whoever needs help with a boat that cannot wait rings at the board, day'
                                .' or night.</p>⟧<p><a href=index.htm>Back to all notices</a></p></body></html>',
                'Notice 12/2025',
                null,
                null,
                'en',
            ],
            'preformatted' => ['<html><head><title>LOG OF THE ANNA, 1931</title></head><body><pre>⟦Monday. Left Saltmarch'
                .' at six with coal for Torr. Wind light from the
south-west, sea smooth. The boy was sick all the same.

Tuesday. Torr at noon. Nobody at the pier but a dog. We put the coal
ashore ourselves and were paid in the evening, in fish.

Wednesday. Fog. Stayed. Mended the jib, which had a hole as large as
a plate, and wrote this.⟧</pre></body></html>', 'LOG OF THE ANNA, 1931', null, null, 'en'],
            'encyclopaedia' => [
                '<!doctype html><html lang=en><head><title>Stern lamp - Book of the Sound</title></head><body><div id=side><ul>'.$links(10)
                    .'</ul></div><div id=content><h1>Stern lamp</h1><div class=from>From the Book of the Sound</div>⟦<p>A <b>stern'
                        .' lamp</b> is a <a href=/lamp>lamp</a> that a ship shows <a href=/aft>aft</a> from sunset to sunrise. It is'
                            .' white and is seen from behind over an arc of a hundred and thirty-five degrees.<sup>[1]</sup></p>⟧<div'
                                .' class=toc><h2>Contents</h2><ul><li><a href=#h>History</a><li><a href=#k>Kinds</a></ul></div>⟦<h2'
                                    .' id=h>History</h2><p>Lamps at the stern came into use when ships began to sail in convoys. The'
                                        .' first were of <a href=/horn>horn</a>, later ones of glass.<sup>[2]</sup> On the Sound they'
                                            .' were made at <a href=/pm>Porth Merrow</a> until about 1950.</p><h2'
                                                .' id=k>Kinds</h2><p>There are lamps for <a href=/oil>oil</a>, for <a href=/gas>gas</a>'
                                                    .' and, since about 1900, for <a href=/el>current</a>. On small boats a lamp that is'
                                                        .' held in the hand is allowed.</p>⟧</div><div class=cats>Kinds: <a'
                                                            .' href=/c1>Lamps</a> <a href=/c2>Ships</a></div></body></html>',
                'Stern lamp',
                null,
                null,
                'en',
            ],
            'data-in-it' => [
                '<!doctype html><html lang=en><head><title>Landings of 2024: less herring, more'
                    .' crab</title></head><body><article><h1>Landings of 2024: less herring, more crab</h1><p class=byline>Statistics'
                        .' desk</p>⟦<p>Boats of the Sound landed less herring in 2024 than in any year since the count began, and more'
                            .' crab than'
                                .' ever.</p><table><tr><th>Kind</th><th>2023</th><th>2024</th></tr><tr><td>Herring</td><td>412</td><td>'
                                    .'377</td></tr><tr><td>Crab</td><td>58</td><td>91</td></tr></table><p>All figures are in tonnes.'
                                        .' They come from the scales of the three harbours, which are checked each spring.</p><p>Why'
                                            .' herring stays away nobody can say for certain. The water was a degree warmer in June than'
                                                .' in the mean of thirty years.</p>⟧</article></body></html>',
                'Landings of 2024: less herring, more crab',
                'Statistics desk',
                null,
                'en',
            ],
            'russian' => [
                '<!doctype html><html lang=ru><head><meta charset=utf-8><title>Новый причал открыт — Газета'
                    .' Торр</title></head><body><div class=header><a href=/>Газета Торр</a></div><div class=content><h1>Новый причал'
                        .' открыт</h1><div class=info><span>Автор: Анна Ветрова</span> <time datetime="2025-05-04">4 мая'
                            .' 2025</time></div>⟦<p>В воскресенье у нового причала стояли семь лодок, а восьмая ждала на рейде, пока не'
                                .' освободится место.</p><p>Такого наплыва никто не ожидал: контора порта приготовила концы лишь для'
                                    .' четырёх.</p><p>Длина причала двести десять метров, стоит он на сорока сваях и обошёлся на треть'
                                        .' дороже, чем думали. Недовольные говорят, что деньги нужны были молу, который прошлой зимой'
                                            .' дважды размывало.</p>⟧</div><div class=related><b>Читайте также</b><ul><li><a'
                                                .' href=/1>Кран снова сорвался</a></li><li><a href=/2>Уголь'
                                                    .' дорожает</a></li></ul></div></body></html>',
                'Новый причал открыт',
                'Анна Ветрова',
                '2025-05-04',
                'ru',
            ],
        ];
    }

    /**
     * Written when the rules had been mended by the ones before.
     *
     * @return array<string, array{string, string|null, string|null, string|null, string|null}>
     */
    private static function more(): array
    {
        return [
            'korean' => [
                '<!doctype html><html lang=ko><head><meta charset=utf-8><title>새 부두 개통 - 토르신문</title></head><body><div id=gnb><ul><li><a'
                    .' href=/>홈</a></li><li><a href=/n>뉴스</a></li></ul></div><div id=article><h3 class=tit>새 부두 개통</h3><p class=info>김하늘'
                        .' 기자 | 입력 2025.05.04 17:20</p>⟦<p>일요일 새 부두에 배 일곱 척이 나란히 섰고, 여덟 번째 배는 자리가 날 때까지 바깥에서 기다렸다.</p><p>이렇게 많은 배가 올 줄은'
                            .' 아무도 몰랐다. 항만 사무소는 밧줄을 네 개만 준비해 두었다.</p><p>부두의 길이는 이백십 미터이며 비용은 계획보다 삼분의 일이 더 들었다. 지난겨울 두 번 무너진 방파제를 먼저 고쳐야'
                                .' 했다는 목소리도 있다.</p>⟧<p class=copy>저작권자 토르신문</p></div><div class=aside><h4>많이 본 뉴스</h4><ol><li><a'
                                    .' href=/1>기중기 또 미끄러져</a></li><li><a href=/2>석탄값 올라</a></li></ol></div></body></html>',
                '새 부두 개통',
                null,
                '2025-05-04',
                'ko',
            ],
            'marked-up' => [
                '<!doctype html><html lang=fr><head><meta charset=utf-8><title>Le treuil de l’île</title></head><body><header'
                    .' role=banner><a href=/>Carnets de l’île</a></header><main><article itemscope'
                        .' itemtype="https://schema.org/BlogPosting"><h1 itemprop=headline>Le treuil de l’île</h1><div><span'
                            .' itemprop=author>Claire Morvan</span>, <time itemprop=datePublished datetime=2024-02-09>9 février'
                                .' 2024</time></div><div itemprop=articleBody>⟦<p>Le treuil a cent ans cette semaine. Personne ne l’a'
                                    .' fêté, sauf le forgeron, qui lui a donné une goutte d’huile et à lui-même un verre.</p><p>Il tire'
                                        .' les bateaux hors de l’eau comme au premier jour, lentement, avec un bruit de dents. En hiver'
                                            .' on l’entend jusqu’à l’école.</p><blockquote><p>Tant qu’il tourne, nous restons, dit ma'
                                                .' voisine.</p></blockquote><p>Elle a quatre-vingt-onze ans et tourne'
                                                    .' aussi.</p>⟧</div></article><section id=commentaires><h2>2'
                                                        .' commentaires</h2><p>Merci pour ce billet, il m’a rappelé mon grand-père qui y'
                                                            .' travaillait tous les soirs après la'
                                                                .' pêche.</p></section></main></body></html>',
                'Le treuil de l’île',
                'Claire Morvan',
                '2024-02-09',
                'fr',
            ],
            'for-programs' => [
                '<!doctype html><html lang=es><head><meta charset=utf-8><title>El muelle abre con más barcos que cabos | El Faro de'
                    .' Torr</title><script'
                        .' type="application/ld+json">{"@context":"https://schema.org","@graph":[{"@type":"WebSite","name":"El Faro de'
                            .' Torr"},{"@type":"NewsArticle","headline":"El muelle abre con más barcos que'
                                .' cabos","datePublished":"2025-05-04T18:00:00+02:00","author":[{"@type":"Person","name":"Elena'
                                    .' Ruiz"},{"@type":"Person","name":"Juan Mar"}]}]}</script></head><body><div class=cabecera><a'
                                        .' href=/>El Faro de Torr</a></div><div class=cuerpo><h1>El muelle abre con más barcos que'
                                            .' cabos</h1><h2 class=entradilla>Siete barcos atracan el primer día y uno espera'
                                                .' fuera</h2>⟦<p>Siete barcos amarraron el domingo en el nuevo muelle, y un octavo'
                                                    .' esperó fuera hasta que hubo sitio.</p><p>Nadie pensaba que vendrían tantos: la'
                                                        .' oficina del puerto había preparado cabos para cuatro.</p><p>El muelle mide'
                                                            .' doscientos diez metros y costó un tercio más de lo previsto. Los críticos'
                                                                .' dicen que el dinero hacía más falta en el rompeolas, que cedió dos'
                                                                    .' veces el invierno pasado.</p>⟧</div><div class=pie>© El Faro de'
                                                                        .' Torr</div></body></html>',
                'El muelle abre con más barcos que cabos',
                'Elena Ruiz, Juan Mar',
                '2025-05-04',
                'es',
            ],
            'release' => [
                '<!doctype html><html lang=en><head><title>Sound Freight to renew stern doors of all ships</title></head><body><ul'
                    .' id=m><li><a href=/>Company</a></li><li><a href=/p>Press</a></li></ul><div class=release><h1>Sound Freight to'
                        .' renew stern doors of all ships</h1>⟦<p>SALTMARCH, 9 December 2024 – Sound Freight will renew the stern doors'
                            .' of all its ships before the summer. Work begins on the Petrel Dawn in January.</p><p>The seals will be of'
                                .' a kind that is pressed on by springs and can be looked at from inside. A door takes nine'
                                    .' days.</p><p>“Nobody should have to think about a door,” says the head of the company, Ruk'
                                        .' Sallow.</p>⟧<h4>Press contact</h4><p>Tel. 555 0142, <a'
                                            .' href=mailto:press@freight.test>press@freight.test</a></p></div></body></html>',
                'Sound Freight to renew stern doors of all ships',
                null,
                '2024-12-09',
                'en',
            ],
            'review' => [
                '<!doctype html><html lang=en><head><title>Book: “What the Sea Took” – Torr Weekly</title><meta property=og:type'
                    .' content=article></head><body><nav><a href=/>Torr Weekly</a><a href=/b>Books</a></nav><article><h1>Book: “What the'
                        .' Sea Took”</h1><div class=author-info>Oda Fenn</div><dl class=facts><dt>By<dd>Ana'
                            .' Brook<dt>Pages<dd>214</dl>⟦<p>It begins with a list of doors. Ana Brook has walked round the whole Sound'
                                .' and written down each door that leads nowhere any more, since the sea has taken what was behind'
                                    .' it.</p><p>That sounds like a sad book, and it is one, but it is also very funny, most of all'
                                        .' where people explain why they still lock theirs.</p><p>What I missed is a'
                                            .' map.</p>⟧</article></body></html>',
                'Book: “What the Sea Took”',
                'Oda Fenn',
                null,
                'en',
            ],
            'chinese' => [
                '<!doctype html><html lang=zh-CN><head><meta charset=utf-8><title>新码头启用_托尔日报</title></head><body><div class="nav"><a'
                    .' href=/>首页</a><a href=/n>新闻</a></div><div class="article"><h1>新码头启用</h1><div class="meta"><span>2025年05月04日'
                        .' 17:20</span> <span>来源：托尔日报</span></div><div'
                            .' class="content">⟦<p>星期天，七艘船停靠在新码头，第八艘船在外面等到有了空位才靠岸。</p><p>谁也没有想到会来这么多船：港务处只准备了四根缆绳。</p><p>'
                                .'码头长二百一十米，由四十根落叶松木桩支撑，造价比原计划高出三分之一。有人认为，这笔钱应当先用来修去年冬天两次垮塌的防波堤。</p>⟧</div></div><div class="rel"><h3>'
                                    .'相关新闻</h3><ul><li><a href=/1>吊车再次打滑</a></li><li><a href=/2>煤价上涨</a></li></ul></div></body></html>',
                '新码头启用',
                null,
                '2025-05-04',
                'zh-CN',
            ],
            'first-of-two' => [
                '<!doctype html><html lang=de><head><meta charset=utf-8><title>Die lange Mole - Seite 1 - Torrer'
                    .' Blatt</title></head><body><ul class=navigation><li><a href=/>Start</a></li></ul><div class=text><h1>Die lange'
                        .' Mole</h1><div class=autorzeile>Lena Hythe, 6. Mai 2025</div>⟦<p>Wer ans Ende der Mole will, braucht gute'
                            .' Schuhe und zwanzig Minuten. Unterwegs ist niemand, dem man ausweichen müsste, nur Möwen, die das nicht'
                                .' tun.</p><p>Am Ende steht eine Bank. Auf ihr sitzt, seit wir sie kennen, ein Mann mit einer roten'
                                    .' Mütze und zählt Schiffe, die nicht mehr kommen.</p><p>Er heißt Ivo, und er lässt sich nicht'
                                        .' fotografieren.</p>⟧<div class=blaettern>Seite 1 von 2 <a href=?s=2>weiter</a></div></div><div'
                                            .' class=anzeige><p>Stiefel, die trocken halten: jetzt ein Drittel'
                                                .' billiger.</p></div></body></html>',
                'Die lange Mole',
                'Lena Hythe',
                '2025-05-06',
                'de',
            ],
            'documentation' => ['<!doctype html><html lang=en><head><title>Greasing the winch — Winch manual 2.1</title></head><body><div'
                .' class=toc><ul><li><a href=a>Setting up</a><li><a href=b>Greasing</a><li><a href=c>Errors</a></ul></div><div class=body'
                .' role=main><h1>Greasing the winch</h1>⟦<p>Grease the winch after each forty hours of work, and once before winter'
                .' whether it was used'
                .' or not.</p><h2>What you need</h2><ul><li>grease of kind 2, about half a cup</li><li>a brush that loses no'
                .' hairs</li></ul>'
                .'<h2>How it is done</h2><ol><li>Switch the winch off and take the fuse out.</li><li>Turn the drum by hand until the'
                .' hole is above.</li>'
                .'<li>Fill the hole, turn the drum ten times, and wipe off what comes out.</li></ol><pre>drum: 10 turns
gear: 4 turns</pre><p>Put the fuse back only when nobody has a hand on the drum.</p>⟧</div>'
                .'<div class=pager><a href=a>Setting up</a> <a href=c>Errors</a></div></body></html>',
                'Greasing the winch', null, null, 'en'],
            'turkish' => [
                '<!doctype html><html lang=tr><head><meta charset=utf-8><title>Yeni iskele açıldı | Torr'
                    .' Gazetesi</title></head><body><div class=ust><a href=/>Torr Gazetesi</a></div><div class=haber><h1>Yeni iskele'
                        .' açıldı</h1><div class=tarih>4 Mayıs 2025 Pazar</div>⟦<p>Pazar günü yeni iskeleye yedi tekne yanaştı,'
                            .' sekizincisi yer açılana kadar dışarıda bekledi.</p><p>Bu kadar teknenin geleceğini kimse düşünmemişti:'
                                .' liman idaresi yalnızca dört halat hazırlamıştı.</p><p>İskele iki yüz on metre uzunluğunda ve'
                                    .' planlanandan üçte bir daha pahalıya mal oldu. Eleştirenler, paranın geçen kış iki kez yıkılan'
                                        .' dalgakırana harcanması gerektiğini söylüyor.</p>⟧</div><div class=diger><h3>Diğer'
                                            .' haberler</h3><ul><li><a href=/1>Vinç yine kaydı</a></li></ul></div></body></html>',
                'Yeni iskele açıldı',
                null,
                '2025-05-04',
                'tr',
            ],
            'letters-page' => [
                '<!doctype html><html lang=en><head><title>Thread: Who saw the Petrel Dawn on Sunday? - Sound'
                    .' board</title></head><body><table class=head><tr><td><a href=/>Sound board</a></table><h1>Who saw the Petrel Dawn'
                        .' on Sunday?</h1><table class=posts><tr><td class=user>gull<br>Posts: 41</td><td><small>Posted: 10 Nov 2024,'
                            .' 08:12</small><p>⟦She passed Skerry Head at four without lights, as far as I could see. Did anybody see'
                                .' her closer?⟧</p></td></tr><tr><td class=user>marram<br>Posts: 902</td><td><small>Posted: 10 Nov 2024,'
                                    .' 08:40</small><p>⟦We did, from the boat. Her stern door was not quite shut. We told the harbour'
                                        .' master, who wrote it down.⟧</p></td></tr><tr><td class=user>old_tern<br>Posts:'
                                            .' 7</td><td><small>Posted: 10 Nov 2024, 11:03</small><p>⟦My brother works aboard. They have'
                                                .' been told not to talk, which tells you enough.⟧</p></td></tr></table><p><a'
                                                    .' href=/reply>Reply</a></p></body></html>',
                'Who saw the Petrel Dawn on Sunday?',
                null,
                '2024-11-10',
                'en',
            ],
        ];
    }

    /**
     * @return array<string, array{string, null, null, null, null}>
     */
    private static function others(): array
    {
        $none = static fn (string $html): array => [$html, null, null, null, null];
        $teaser = static fn (string $head, string $text): string =>
            "<article><h2><a href=/s>{$head}</a></h2><p>{$text} <a href=/s>Read on</a></p></article>";

        return [
            'front-with-teasers' => $none(
                '<!doctype html><html lang=en><head><title>Torr Weekly</title></head><body><h1>Torr Weekly</h1>'
                    .$teaser('Pier opens', 'Seven boats lay at the new pier on Sunday, and an eighth waited outside until there was room.')
                    .$teaser(
                        'Crane slips again',
                        'For the third time this spring the hook of the crane came down faster than it should, with a load of coal.',
                    )
                    .$teaser('Coal goes up', 'By a sixth since Monday. The yard says that it will not be the last time this winter.')
                    .$teaser('School gets a boat', 'A rowing boat, given by the club that has ended, with eight oars and a song.')
                    .$teaser('Fog for five days', 'No ferry since Tuesday. The shop has bread until tomorrow.').'</body></html>',
            ),
            'shop' => $none(
                '<!doctype html><title>Lamps – Net &amp; Float</title><h1>Lamps</h1><div class=grid>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<div class=item><img src=l{$n}.jpg><h3><a href=/l/{$n}>Lamp no. {$n}</a></h3><span class=price>"
                                .(10 * $n).'</span><button>Add to basket</button></div>',
                            range(1, 16),
                        ),
                    )
                    .'</div>',
            ),
            'search' => $none(
                '<!doctype html><title>Search: lamp</title><form><input name=q value=lamp></form><p>41 results</p><ol>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<li><a href=/r/{$n}>Lamp, found at place {$n}</a><p>… a lamp of brass that was seen at place {$n} in"
                                    ." the year 19{$n} …</p></li>",
                            range(10, 22),
                        ),
                    )
                    .'</ol>',
            ),
            'forum-list' => $none(
                '<!doctype html><title>Lamp talk</title><h1>Lamp talk</h1><table><tr><th>Topic<th>Answers<th>Last</tr>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<tr><td><a href=/t/{$n}>Question about a lamp number {$n}</a><td>{$n}<td>{$n} March</tr>",
                            range(1, 20),
                        ),
                    )
                    .'</table>',
            ),
            'form' => $none(
                '<!doctype html><title>Ask for a berth</title><h1>Ask for a berth</h1><form><label>Name of the boat'
                    .' <input></label><label>Length in metres <input></label><label>From <input type=date></label><label>To <input'
                        .' type=date></label><p>We answer within two days.</p><button>Send</button></form>',
            ),
            'people' => $none(
                '<!doctype html><title>Who we are</title><h1>Who we are</h1><ul>'
                    .implode(
                        '',
                        array_map(
                            static fn (string $name): string =>
                                "<li><img src=x.jpg><b>{$name}</b><br>Harbour board<br><a href=mailto:x@torr.test>write</a></li>",
                            ['Mira Oxley', 'Ivo Marsh', 'Oda Fenn', 'Ruk Sallow', 'Lena Hythe', 'Jonas Reet'],
                        ),
                    )
                    .'</ul>',
            ),
            'tides' => $none(
                '<!doctype html><title>Tides of May</title><h1>Tides of May</h1><table>'
                    .implode(
                        '',
                        array_map(static fn (int $n): string => "<tr><td>{$n} May<td>0{$n}:12<td>1{$n}:40<td>4.1<td>0.9</tr>", range(1, 9)),
                    )
                    .'</table>',
            ),
            'index' => $none(
                '<!doctype html><title>Archive of 2024</title><h1>Archive of 2024</h1>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<h2>Week {$n}</h2><ul><li><a href=/w/{$n}/a>Herring of week {$n}</a><li><a href=/w/{$n}/b>Letters of"
                                    ." week {$n}</a></ul>",
                            range(1, 20),
                        ),
                    ),
            ),
            'video' => $none(
                '<!doctype html><title>Herring boats, 1961</title><video src=v.mp4></video><h1>Herring boats, 1961</h1><p>412'
                    .' views</p><ul><li><a href=/v/1>Next: Net makers</a><li><a href=/v/2>Ropes</a></ul>',
            ),
            'photo-story' => $none(
                '<!doctype html><title>The gale in pictures</title><h1>The gale in pictures</h1>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<figure><img src={$n}.jpg><figcaption>Picture {$n} of 9: the quay at hour {$n}</figcaption></figure>",
                            range(1, 9),
                        ),
                    ),
            ),
            'events' => $none(
                '<!doctype html><title>What is on</title><h1>What is on</h1>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<div class=event><b>{$n} May</b> <a href=/e/{$n}>Evening number {$n}</a> <span>net loft, 19:30</span>"
                                    .'</div>',
                            range(2, 16),
                        ),
                    ),
            ),
            'blog-home' => $none(
                '<!doctype html><title>Notes from Torr</title><h1><a href=/>Notes from Torr</a></h1>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string =>
                                "<div class=post><h2><a href=/p/{$n}>Note number {$n}</a></h2><p>On day {$n} the wind came from the"
                                    .' north, and I wrote down what it brought: a shoe, two floats, and a letter that I could not'
                                        .' read.</p><p>More of it below, when I have dried it and found my glasses …</p></div>',
                            range(1, 6),
                        ),
                    ),
            ),
            'sign-in' => $none(
                '<!doctype html><title>Sign in</title><h1>Sign in</h1><form><input name=u><input type=password name=p><button>Sign'
                    .' in</button></form><p>Forgotten? Ask at the office.</p>',
            ),
        ];
    }
}
