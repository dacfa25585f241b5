<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;

/** Scenes written by hand after the ones before had been mended by; other trades, other tongues, other ways to build a page. */
final class OtherScenes extends SceneSite
{
    protected const PATH = '/item/4471';

    protected function domain(): string
    {
        return 'other.test';
    }

    protected function fill(): void
    {
        $this->alive();
        $this->goneInWords();
        $this->goneInManner();
        $this->vacant();
        $this->walls();
        $this->led();
        $this->broken();
    }

    private function alive(): void
    {
        $recipe = '<h1>Herring in mustard</h1><p>For four, half an hour.</p><h2>You need</h2><ul><li>8 herring fillets<li>2 spoons of'
            .' mustard<li>dill, salt, a little sugar</ul><h2>How</h2><ol><li>Rinse the fillets and dry them.<li>Spread mustard, roll'
                .' them up, pin them.<li>Leave them in the cold over night.</ol>';
        $this->scene('recipe', 'alive ok', self::lone(self::page('Herring in mustard', $recipe)));
        $this->scene(
            'weather',
            'alive ok',
            self::lone(
                '<html><head><title>Sound weather</title></head><body><h1>Hollin Quay</h1><table><tr><th>Wind<td>SW 5<tr><th>Sea<td>1.2'
                    .' m<tr><th>Sight<td>good</table><p>Next report at 18:00.</p></body></html>',
            ),
        );
        $this->scene(
            'no-vacancies',
            'alive ok',
            self::lone(self::page(
                'Work with us',
                '<h1>Work with us</h1><p>There are no vacancies at the moment. Deck hands are taken on in March and in September; write'
                    .' to the office with your papers, and tell us which boats you know.</p>',
            )),
        );
        $this->scene(
            'search-help',
            'alive ok',
            self::lone(self::page(
                'No results? How to search the register',
                '<h1>No results? How to search the register</h1><p>Ships are listed by the name they bore when they were built. Leave'
                    .' out “the”, and try the year instead. A star stands for any letters: Pet* finds Petrel and Petunia.</p><p>Ships'
                        .' under five tonnes stand in the other register, which is on paper and kept at Saltmarch.</p>',
            )),
        );
        $this->scene(
            'cancelled',
            'alive ok',
            self::lone(self::page(
                'Überfahrt fällt aus',
                '<h1>Überfahrt um 15:05 fällt aus</h1><p>Wegen Sturm. Die nächste Fähre geht, wenn der Wind nachlässt, frühestens um 19'
                    .' Uhr.</p>',
            )),
        );
        $this->scene(
            'dissolved',
            'alive ok',
            self::lone(self::page(
                'Le club n’existe plus',
                '<article><h1>Le club n’existe plus</h1><p>Le club d’aviron de Porth Merrow a cessé ses activités en mars. Ses bateaux'
                    .' ont été donnés à l’école, ses livres à la bibliothèque.</p><p>Il avait été fondé en 1904 par douze pêcheurs qui'
                        .' voulaient ramer le dimanche sans filets.</p></article>',
            )),
        );
        $this->scene(
            'expired-passport',
            'alive ok',
            self::lone(self::page(
                'Pass abgelaufen?',
                '<h1>Pass abgelaufen?</h1><p>Wer zur Insel Torr will, braucht einen gültigen Pass. Das Amt am Kai stellt in zwei Tagen'
                    .' einen neuen aus; bitte ein Bild mitbringen.</p>',
            )),
        );
        $this->scene(
            'site-notice',
            'alive ok',
            self::lone(self::page(
                'Site notice',
                '<h1>Site notice</h1><p>Published by the harbour board, Quay 1. This site has been built by the board itself. Links to'
                    .' other sites were checked when they were set; what is behind them may have changed or may not be available any'
                        .' more.</p>',
            )),
        );
        $this->scene(
            'withdrawn-boat',
            'alive ok',
            self::lone(self::page(
                'Ferry Anna withdrawn from service',
                '<h1>Ferry Anna withdrawn from service</h1><p>After 44 years. She made her last crossing on Sunday with a full deck and'
                    .' her flags up, and lies at the breaker’s now.</p>',
            )),
        );
        $this->scene(
            'el-removed-statue',
            'alive ok',
            self::lone(self::page(
                'Το άγαλμα αφαιρέθηκε',
                '<h1>Το άγαλμα του ναύτη αφαιρέθηκε από την πλατεία</h1><p>Ο δήμος λέει ότι θα επιστρέψει μετά τη συντήρηση, που θα'
                    .' κρατήσει τρεις μήνες.</p>',
            )),
        );
        $this->scene(
            'ja-none-left',
            'alive ok',
            self::lone(self::page('乗船券について', '<h1>乗船券について</h1><p>往復券は窓口で買えます。車の予約は前日までに電話でお願いします。当日の空きがない場合は次の便になります。</p>')),
        );
        $this->scene(
            'login-page-asked',
            'alive ok',
            self::lone(self::page(
                'What the board decided on passwords',
                '<h1>What the board decided on passwords</h1><p>From May on, members sign in to the berth plan with a longer password.'
                    .' The old ones end on 30 April. Whoever has forgotten theirs asks at the office, since nothing is sent by'
                        .' mail.</p><p>The plan itself stays open to all for reading.</p>',
            )),
        );
        $this->scene(
            'poem',
            'alive ok',
            self::lone(self::page(
                'Missing',
                '<h1>Missing</h1><p>no lamp<br>no oar<br>nothing here<br>but the door<br>that the sea<br>took ashore</p><p>Oda Fenn</p>',
            )),
        );
        $this->scene(
            'podcast',
            'alive ok',
            self::lone(self::page(
                'Episode 12: Gone',
                '<h1>Episode 12: Gone</h1><audio controls src=/12.mp3></audio><p>We talk with the man who watched the island of Skerry'
                    .' empty, house by house, and ask what is left there.</p>',
            )),
        );
        $this->scene(
            'held-in-frame-of-new-site',
            'alive ok',
            self::lone(self::page(
                'Archive',
                '<nav>'.str_repeat('<a href=/x>Another year</a>', 60).'</nav><div class=x><h3>Herring in mustard</h3>'.$recipe.'</div>',
            )),
            held: self::page('Kitchen of the Sound', $recipe),
        );
        $this->scene('numbers-only', 'alive ok', self::lone('<title>Counter 4</title><pre>2024-11-01 412
2024-11-02 388
2024-11-03 404</pre>'));
        $this->scene(
            'with-note-on-cookies',
            'alive ok',
            self::lone(self::page(
                'Quay',
                '<h1>Berth 12</h1><p>For boats up to 9 m. Water, no current.</p><div id=ck>This site uses cookies.'
                    .' <button>OK</button></div>',
            )),
        );
        $this->scene(
            'premium-coal',
            'alive ok',
            self::lone(self::page(
                'Coal',
                '<h1>Premium coal, available again</h1><p>Sacks of 25 kg, for sale at the yard from eight to noon. Bring your own'
                    .' cart.</p>',
            )),
        );
        $this->scene(
            'ru-notice',
            'alive ok',
            self::lone(self::page(
                'Маяк закрыт',
                '<h1>Маяк закрыт для посещений</h1><p>До мая на маяке идёт ремонт. Экскурсии по набережной идут как обычно, по субботам'
                    .' в полдень.</p>',
            )),
        );
        $this->scene(
            'shop-closing',
            'alive ok',
            self::lone(self::page(
                'We are closing',
                '<h1>We are closing</h1><p>After thirty years our shop has closed. Thank you for your letters. The last nets and floats'
                    .' go to the school.</p>',
            )),
        );
    }

    private function goneInWords(): void
    {
        foreach ([
            'en-a' => [
                'Torr Times',
                'We can’t find that page',
                'You may have typed the address wrong, or the page may have moved. Try the search above, or start again from the home'
                    .' page.',
            ],
            'en-b' => [
                'Torr Times',
                'Hmm. That didn’t work.',
                'The content you tried to open isn’t available right now. It may have been deleted by its owner, or shared with fewer'
                    .' people.',
            ],
            'en-c' => ['Document store', 'Document unavailable', 'The requested document could not be located in the store.'],
            'en-d' => ['Torr Times', 'This story has been retracted and removed', ''],
            'de-a' => [
                'Torrer Blatt',
                'Ups, da ist etwas schiefgelaufen',
                'Der von Ihnen gesuchte Artikel existiert leider nicht mehr oder wurde umbenannt.',
            ],
            'de-b' => ['Kleinanzeigen', 'Anzeige nicht mehr online', 'Der Anbieter hat die Anzeige beendet.'],
            'fr-a' => ['Le Torr', 'Contenu supprimé', 'Ce contenu a été retiré par son auteur.'],
            'fr-b' => ['Le Torr', 'Erreur', 'Désolé, l’article que vous recherchez n’est plus en ligne.'],
            'it-a' => ['Il Torr', 'Ops!', 'L’articolo che stai cercando non è più disponibile.'],
            'pt-a' => ['O Torr', 'Ops', 'Não conseguimos encontrar a página que você procura.'],
            'nl-a' => ['De Torr', 'Helaas', 'Het artikel dat u zoekt, is verwijderd.'],
            'pl-a' => ['Torr', 'Ups', 'Artykuł, którego szukasz, został usunięty.'],
            'ru-a' => ['Торр', 'Увы', 'Эта публикация была удалена автором.'],
            'tr-a' => ['Torr', 'Üzgünüz', 'Aradığınız haber yayından kaldırılmıştır.'],
            'ko-a' => ['토르', '알림', '삭제된 게시글입니다.'], 'zh-a' => ['托尔', '提示', '该内容已被作者删除。'],
            'ja-a' => ['トル', 'お知らせ', 'この記事は掲載期間が終了したため、ご覧いただけません。'], 'ar-a' => ['تور', 'عذرًا', 'تم حذف هذا المقال.'],
            'sv-a' => ['Torr', 'Hoppsan', 'Artikeln du letar efter har tagits bort.'],
            'el-a' => ['Τορρ', 'Συγγνώμη', 'Η αγγελία έχει λήξει και δεν εμφανίζεται πλέον.'],
            'cs-a' => ['Torr', 'Jejda', 'Tento článek už neexistuje.'],
            'es-a' => ['El Torr', 'Lo sentimos', 'La noticia que buscas ha sido eliminada.'],
        ] as $name => [$title, $head, $words]) {
            $this->scene(
                'words-'.$name,
                'vanished soft-404',
                self::lone(self::page(
                    $title,
                    "<header><a href=/>{$title}</a></header><main><h1>{$head}</h1><p>{$words}</p></main><footer>© {$title}</footer>",
                )),
            );
        }
        $this->scene(
            'in-the-title-alone',
            'vanished soft-404',
            self::lone(self::page(
                'Page not found – Torr Times',
                '<main><p>Try one of these:</p><ul><li><a href=/1>Quay</a><li><a href=/2>Boats</a></ul></main>',
            )),
        );
        $this->scene(
            'big-number',
            'vanished soft-404',
            self::lone(self::page('Torr Times', '<main><div class=big>404</div><p>Lost at sea? <a href=/>Sail home</a></p></main>')),
        );
    }

    private function goneInManner(): void
    {
        $this->scene(
            'shop-front-for-all',
            'vanished soft-404',
            self::all(self::page(
                'Net & Float',
                '<h1>Net &amp; Float</h1><div>'
                    .implode(
                        '',
                        array_map(
                            static fn (string $what): string => "<div><h3>{$what}</h3><span>from 9</span></div>",
                            ['Nets', 'Floats', 'Ropes', 'Boots', 'Lamps'],
                        ),
                    )
                    .'</div>',
            )),
        );
        $this->scene(
            'welcome-in-unknown-tongue',
            'vanished soft-404',
            self::all(self::page('Torra', '<h1>Venne a Torra</h1><p>Ken ta mori sel vana tis ora, nem ta kori.</p>')),
        );
        $this->scene(
            'echo-and-clock',
            'vanished soft-404',
            static fn (Request $r): Response => Response::html(self::page(
                'Torr',
                '<h1>Torr</h1><p>'.htmlspecialchars($r->path).'</p><p>'.date('H:i').' · '.random_int(100, 999)
                    .' readers</p><ul><li>Ferry<li>Post<li>Coal</ul>',
            )),
        );
        $this->scene(
            'to-categories',
            'vanished soft-404',
            static fn (Request $r): Response => '/items' === $r->path
                ? Response::html(self::page('All items', '<h1>All items</h1><ul><li>Lamps<li>Ropes</ul>'))
                : Response::redirect('/items', 301),
        );
        $this->scene(
            'home-with-anchor',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(self::page('Torr', '<h1>Torr</h1><p>An island, two boats a day.</p>'))
                : Response::redirect('/#content', 302),
        );
        $this->scene(
            'home-of-www', 'vanished home-redirect', static fn (): Response => Response::redirect('http://www.home-of-www.other.test', 301),
        );
        $this->scene(
            'www.home-of-www',
            'alive ok',
            static fn (): Response => Response::html(self::page('Torr', '<h1>Torr</h1><p>An island, two boats a day.</p>')),
            '/',
        );
        $this->scene(
            'where-all-lead',
            'alive ok',
            static fn (Request $r): Response => '/news-of-torr' === $r->path
                ? Response::html(self::page('News of Torr', '<h1>News of Torr</h1><p>The crane is mended.</p>'))
                : Response::redirect('/news-of-torr', 302),
            '/news-of-torr',
        );
        $this->scene('status-410', 'vanished gone', static fn (): Response => new Response(410, [], ''));
        $this->scene('status-404-no-body', 'vanished not-found', static fn (): Response => new Response(404, [], ''));
        $this->scene(
            'replaced-by-notice',
            'vanished soft-404',
            self::lone(self::page(
                'Torr Times', '<h1>Report on the crane</h1><p>At the wish of the company we have removed this report.</p>',
            )),
            held: self::page(
                'Report on the crane',
                '<h1>Report on the crane</h1><p>The crane at Torr has not been looked at by anybody for nine years, though its plate'
                    .' says that it was. Three people who work under it say that its hook has slipped twice since spring.</p><p>The'
                        .' company that hires it out does not answer.</p>',
            ),
        );
    }

    private function vacant(): void
    {
        foreach ([
            'a' => ['other.test', '<h1>This domain has recently been registered</h1><p>Sponsored links</p>'],
            'b' => ['Parked', '<p>This web page is parked, free of charge.</p>'],
            'fr' => ['other.test', '<p>Le domaine other.test est à vendre !</p>'], 'es' => ['other.test', '<p>¡Compre este dominio!</p>'],
            'sv' => ['other.test', '<p>Domänen other.test är till salu.</p>'],
            'tr' => ['other.test', '<p>other.test alan adı satılıktır.</p>'],
            'hosting' => [
                'Hosting',
                '<h1>Hosting package suspended</h1><p>This website is temporarily suspended. Please get in touch with our accounts'
                    .' department.</p>',
            ],
            'soon-de' => ['other.test', '<h1>Hier entsteht eine neue Internetpräsenz</h1>'],
            'index' => ['Index of /', '<h1>Index of /</h1><pre></pre>'],
            'server' => [
                'Success',
                '<h1>Congratulations! Your web server is working.</h1><p>Put your files into the folder to replace this page.</p>',
            ],
        ] as $name => [$title, $body]) {
            $this->scene('vacant-'.$name, 'vanished parked', self::all(self::page($title, $body)));
        }
    }

    private function walls(): void
    {
        $story = '<h1>The crane at Torr</h1><p>Nobody has looked at the crane for nine years, though its plate says so.</p><p>Its hook'
            .' slipped twice …</p>';
        foreach ([
            'en' => 'This story is for subscribers. Log in or join us.',
            'de' => 'Jetzt Abo abschließen und den ganzen Artikel lesen',
            'it' => 'Abbonati per continuare a leggere',
            'nl' => 'Word abonnee om verder te lezen',
            'sv' => 'Logga in för att läsa vidare',
            'pt' => 'Conteúdo exclusivo para assinantes',
            'ru' => 'Полный текст доступен только подписчикам',
            'ja' => 'この記事は有料会員限定です',
            'zh' => '订阅后继续阅读全文',
            'ko' => '구독하고 계속 읽기',
        ] as $language => $words) {
            $this->scene(
                'pay-'.$language,
                'blocked login',
                self::lone(self::page('The crane at Torr', $story."<section><p>{$words}</p><button>→</button></section>")),
            );
        }
        $this->scene(
            'gate',
            'blocked login',
            self::all(self::page(
                'Union',
                '<h1>Union members</h1><p>Please log in.</p><form action=/in method=post><input name=n placeholder=Name><input name=w'
                    .' type=password placeholder=Word><button>Go</button></form>',
            )),
        );
        $this->scene(
            'sent-to-account',
            'blocked login',
            static fn (Request $r): Response => '/account/login' === $r->path
                ? Response::html(self::page('Log in', '<form><input name=e><input type=password name=p><button>Log in</button></form>'))
                : Response::redirect('/account/login?returnUrl='.rawurlencode($r->path), 302),
        );
        foreach ([
            'es' => 'Verifica que eres humano', 'ru' => 'Подтвердите, что вы не робот', 'zh' => '请完成人机验证',
            'pt' => 'Confirme que você não é um robô', 'it' => 'Verifica di non essere un robot',
        ] as $language => $words) {
            $this->scene(
                'human-'.$language,
                'blocked challenge',
                static fn (): Response => Response::html(self::page('…', "<h1>{$words}</h1><div></div>"), 403),
            );
        }
        foreach ([
            'en' => [
                'Cookies on Torr Times', 'We ask for your consent before we store cookies. With it we can pay our writers.', 'I agree',
            ],
            'pl' => ['Dbamy o Twoją prywatność', 'My i nasi partnerzy używamy plików cookie.', 'Zgadzam się'],
            'ru' => ['Мы ценим вашу конфиденциальность', 'Мы и наши партнёры используем файлы cookie.', 'Принять все'],
        ] as $language => [$head, $words, $button]) {
            $this->scene(
                'agree-'.$language,
                'blocked consent',
                self::all(self::page($head, "<h1>{$head}</h1><p>{$words}</p><button>{$button}</button>")),
            );
        }
        $this->scene('not-for-you', 'blocked forbidden', static fn (): Response => new Response(403, [], ''));
        $this->scene(
            'by-law', 'blocked legal', static fn (): Response => Response::html('<h1>Not here</h1><p>By order of a court.</p>', 451),
        );
        $this->scene('slow-down', 'blocked rate-limit', static fn (): Response => Response::html('<p>Slow down.</p>', 429));
    }

    private function led(): void
    {
        $this->scene('new-number', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::redirect('/objects/lamp-4471', 301),
            '/objects/lamp-4471' => Response::html(self::page('Lamp', '<h1>Lamp</h1><p>Brass, about 1910.</p>')),
            default => self::notFound(),
        });
        $this->scene(
            'other-house',
            'moved redirect',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::redirect('//elsewhere.other.test/objects/4471', 302)
                : self::notFound(),
        );
        $this->scene('one-more-step-by-page', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::html(
                '<html><head><noscript><meta http-equiv="refresh" content="0;url=/x"></noscript><meta http-equiv="refresh" content="1;'
                    .' url=&quot;/objects/4471&quot;"></head><body></body></html>',
            ),
            '/objects/4471', '/x' => Response::html(self::page('Lamp', '<h1>Lamp</h1><p>Brass, about 1910.</p>')),
            default => self::notFound(),
        });
        $this->scene(
            'sold-to-others',
            'changed content',
            self::lone(self::page(
                'Yoga on Torr',
                '<h1>Yoga on Torr</h1><p>Every morning on the beach, from May to September. Bring a mat and something warm; tea is'
                    .' there.</p><h2>Prices</h2><ul><li>once 8<li>ten times 60</ul>',
            )),
            held: self::page(
                'Crane inspections',
                '<h1>Crane inspections</h1><p>We look at cranes of up to forty tonnes, at quays and on ships, and say in writing what we'
                    .' found. Reports are kept for ten years and shown to anybody who works below the hook.</p>',
            ),
        );
        $this->scene(
            'list-in-place',
            'changed content',
            static fn (Request $r): Response => '/papers/12.pdf' === $r->path
                ? Response::html(self::page('Papers', '<h1>Papers of 2012</h1><ul><li>Tolls<li>Berths<li>Crane</ul>'))
                : self::notFound(),
            '/papers/12.pdf',
        );
    }

    private function broken(): void
    {
        $this->scene('down', 'unreachable server-error', static fn (): Response => Response::html('<h1>Down for maintenance</h1>', 503));
        $this->scene('bad-way', 'unreachable server-error', static fn (): Response => new Response(502, [], ''));
        $this->scene(
            'itself', 'unreachable redirect-loop', static fn (Request $r): Response => Response::redirect('http://'.$r->host.$r->path, 301),
        );
        $this->scene('nothing', 'unreachable bad-response', static fn (): Response => Response::of('text/html', ''));
        $this->scene('by-script', 'unreachable bad-response', static fn (): Response => Response::redirect('javascript:alert(1)', 302));
        $this->scene(
            'half-way',
            'unreachable bad-response',
            static fn (): Response => Response::html(str_repeat('<p>Brass, about 1910.</p>', 400))->cutAt(2_000),
        );
    }
}
