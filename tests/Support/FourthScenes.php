<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;

/** A fourth set written by hand: houses of several countries, with menus, feet, lists of what others read, banners and scripts around. */
final class FourthScenes extends SceneSite
{
    protected const PATH = '/2021/05/17/hafen-bericht.html';

    protected function domain(): string
    {
        return 'fourth.test';
    }

    protected function fill(): void
    {
        $this->german();
        $this->french();
        $this->english();
        $this->others();
        $this->byManner();
    }

    private function german(): void
    {
        $text = '<p>Der Bericht über den Hafen umfasst vierzig Seiten und kommt zu einem einfachen Schluss: Die Kaimauer hält, solange'
            .' niemand sie anlehnt.</p><p>Verfasst hat ihn ein Büro aus der Stadt, das zuvor noch nie einen Hafen gesehen hatte. Der Rat'
                .' nahm ihn mit sieben zu zwei Stimmen an.</p><p>Die Fischer haben einen eigenen geschrieben. Er ist eine Seite lang und'
                    .' liegt im Wirtshaus aus.</p>';
        $whole = self::de('Hafenbericht', '<article><h1>Hafenbericht</h1><span class=autor>Jonas Reet</span>'.$text.'</article>');
        $held = self::page('Hafenbericht', '<h1>Hafenbericht</h1>'.$text);
        $this->scene('de-ganz', 'alive ok', self::lone($whole), held: $held);
        $this->scene(
            'de-kurz',
            'alive ok',
            self::lone(self::de(
                'Öffnungszeiten', '<h1>Öffnungszeiten</h1><p>Montag bis Freitag von neun bis zwölf. Im August geschlossen.</p>',
            )),
        );
        $this->scene(
            'de-nicht-gefunden-leute',
            'alive ok',
            self::lone(self::de(
                'Suche nach dem Boot eingestellt',
                '<h1>Suche nach dem Boot eingestellt</h1><p>Das Boot wurde nicht gefunden. Die Retter haben in der Nacht aufgegeben,'
                    .' weil die Sicht zu schlecht war.</p>',
            )),
        );
        $this->scene(
            'de-geloescht-feuer',
            'alive ok',
            self::lone(self::de(
                'Feuer gelöscht', '<h1>Feuer im Netzschuppen gelöscht</h1><p>Um vier Uhr war es aus. Verletzt wurde niemand.</p>',
            )),
        );
        $this->scene(
            'de-banner',
            'alive ok',
            self::lone(str_replace(
                '<main>',
                '<div class=cmp><p>Wir und unsere Partner nutzen Cookies. Mit „Zustimmen“ willigen Sie'
                    .' ein.</p><button>Zustimmen</button></div><main>',
                $whole,
            )),
        );
        $this->scene(
            'de-abo-hinweis-im-fuss',
            'alive ok',
            self::lone(str_replace('<footer>', '<footer><p>Mit dem Abo lesen Sie alle Artikel.</p>', $whole)),
        );
        foreach ([
            'a' => '<h1>Seite nicht gefunden</h1><p>Leider konnten wir die angeforderte Seite nicht finden.</p>',
            'b' => '<h1>Fehler 404</h1><p>Bitte prüfen Sie die Adresse.</p>',
            'c' => '<h1>Inhalt nicht mehr verfügbar</h1><p>Aus lizenzrechtlichen Gründen können wir diesen Beitrag nicht länger'
                .' anbieten.</p>',
            'd' => '<p>Der Artikel wurde entfernt.</p>',
            'e' => '<h1>Huch!</h1><p>Hier ist nichts. Die Seite, die Sie suchen, gibt es nicht oder nicht mehr.</p>',
        ] as $name => $body) {
            $this->scene('de-weg-'.$name, 'vanished soft-404', self::lone(self::de('Küstenbote', $body)));
        }
        $this->scene(
            'de-abo',
            'blocked login',
            self::lone(self::de(
                'Hafenbericht',
                '<article><h1>Hafenbericht</h1><p>Der Bericht über den Hafen umfasst vierzig Seiten …</p><div class=plus><h3>Dieser'
                    .' Artikel ist exklusiv für Abonnenten</h3><button>Jetzt testen</button></div></article>',
            )),
            held: $held,
        );
        $this->scene(
            'de-anmelden',
            'blocked login',
            self::all(self::page(
                'Anmeldung erforderlich',
                '<h1>Anmeldung erforderlich</h1><form><input name=b><input type=password name=p><button>Anmelden</button></form>',
            )),
        );
        $this->scene(
            'de-wand',
            'blocked consent',
            self::all(self::page(
                'Küstenbote',
                '<h1>Willkommen</h1><p>Lesen Sie mit Werbung und Cookies, oder ohne im Pur-Abo. Sie können Ihre Einwilligung jederzeit'
                    .' widerrufen.</p><button>Alle akzeptieren</button><button>Pur-Abo</button>',
            )),
        );
        $this->scene(
            'de-anderes',
            'changed content',
            self::lone(self::de(
                'Fischrezepte',
                '<article><h1>Neun Rezepte mit Hering</h1><p>Hering schmeckt gebraten, gesalzen, geräuchert und eingelegt, und wer ihn'
                    .' einmal roh gegessen hat, der vergisst es nicht.</p><p>Für alle Rezepte gilt: frisch muss er sein, und kalt der'
                        .' Keller.</p></article>',
            )),
            held: $held,
        );
        $this->scene(
            'de-verkauf',
            'vanished parked',
            self::all(self::page('fourth.test', '<h1>fourth.test</h1><p>Diese Domain können Sie kaufen.</p>')),
        );
        $this->scene(
            'de-gesperrt', 'vanished parked', self::all(self::page('Hinweis', '<p>Der Webspace wurde vorübergehend gesperrt.</p>')),
        );
    }

    private function french(): void
    {
        $text = '<p>Le rapport sur le port compte quarante pages et conclut simplement : le quai tient, tant que personne ne s’y'
            .' appuie.</p><p>Il a été écrit par un bureau de la ville qui n’avait jamais vu de port. Le conseil l’a adopté par sept voix'
                .' contre deux.</p><p>Les pêcheurs ont écrit le leur. Il tient en une page, et se lit à l’auberge.</p>';
        $this->scene(
            'fr-entier', 'alive ok', self::lone(self::fr('Rapport du port', '<article><h1>Rapport du port</h1>'.$text.'</article>')),
        );
        $this->scene(
            'fr-court', 'alive ok', self::lone(self::fr('Horaires', '<h1>Horaires</h1><p>Du lundi au vendredi de neuf heures à midi.</p>')),
        );
        $this->scene(
            'fr-supprimee-ligne',
            'alive ok',
            self::lone(self::fr(
                'Ligne supprimée',
                '<h1>La ligne de Torr est supprimée</h1><p>Le dernier bateau partira dimanche à dix-huit heures. Les billets sont'
                    .' remboursés.</p>',
            )),
        );
        foreach ([
            'a' => '<h1>Page introuvable</h1>',
            'b' => '<h1>Oups !</h1><p>La page que vous recherchez a peut-être été déplacée ou supprimée.</p>',
            'c' => '<p>Cet article n’est plus disponible.</p>',
            'd' => '<h1>Erreur 404</h1><p>Retournez à l’accueil.</p>',
        ] as $name => $body) {
            $this->scene('fr-perdu-'.$name, 'vanished soft-404', self::lone(self::fr('Le Phare', $body)));
        }
        $this->scene(
            'fr-abonnes',
            'blocked login',
            self::lone(self::fr(
                'Rapport du port',
                '<article><h1>Rapport du port</h1><p>Le rapport sur le port compte quarante pages.</p><p>Il vous reste 80 % de cet'
                    .' article à lire. La suite est réservée aux abonnés.</p></article>',
            )),
        );
        $this->scene(
            'fr-mur',
            'blocked consent',
            self::all(self::page(
                'Le Phare',
                '<h2>Votre vie privée</h2><p>Avec votre accord, nos 55 partenaires et nous utilisons des cookies ou technologies'
                    .' similaires.</p><button>Accepter et fermer</button><a href=#>Continuer sans accepter</a>',
            )),
        );
        $this->scene(
            'fr-vente', 'vanished parked', self::all(self::page('fourth.test', '<p>Ce nom de domaine est peut-être à vendre.</p>')),
        );
    }

    private function english(): void
    {
        $this->scene(
            'en-data-in-script',
            'alive ok',
            self::lone(
                '<!doctype html><html lang=en><head><title>Tide gauge</title></head><body><h1>Tide gauge</h1><div'
                    .' id=plot></div><noscript>The curve needs scripts.</noscript><script>const gauge = {"error": "not found", "values":'
                        .' [1, 2, 3]};</script></body></html>',
            ),
        );
        $this->scene(
            'en-comments-closed',
            'alive ok',
            self::lone(self::en(
                'On keels',
                '<article><h1>On keels</h1><p>A keel is what a boat stands on when nobody looks. Ours is of oak and was laid in the year'
                    .' of the comet.</p></article><section><h2>Comments</h2><p>Comments are closed.</p></section>',
            )),
        );
        $this->scene(
            'en-sold',
            'alive ok',
            self::lone(self::en(
                'Dinghy',
                '<h1>Dinghy, 3.4 m</h1><p><b>Sold.</b> Built 1999 of larch, with oars and a cover. Was 900.</p><p>See our other boats.</p>',
            )),
        );
        $this->scene(
            'en-outage',
            'alive ok',
            self::lone(self::en(
                'Outage',
                '<h1>Why you could not find us yesterday</h1><p>From noon to four our pages were not available. A digger had cut the'
                    .' line at the chapel. We are sorry, and have bought the digger a map.</p>',
            )),
        );
        $this->scene(
            'en-definition',
            'alive ok',
            self::lone(self::en(
                'gone',
                '<h1>gone</h1><p><i>adjective</i></p><ol><li>no longer present: <i>the boat is gone</i><li>used up: <i>the bread is'
                    .' gone</i></ol>',
            )),
        );
        $this->scene(
            'en-faq',
            'alive ok',
            self::lone(self::en(
                'Questions',
                '<h1>Questions</h1><h2>Why has my post been removed?</h2><p>Posts are removed if they name people who did not ask to be'
                    .' named. You get a letter that says so.</p><h2>Can I have it back?</h2><p>Yes, within a month, without the names.</p>',
            )),
        );
        foreach ([
            'a' => '<div class=msg>The requested URL was not found on this server.</div>',
            'b' => '<h1>We’re sorry</h1><p>The story you requested is no longer on our site.</p>',
            'c' => '<h1>Page unavailable</h1><p>This page isn’t available. The link may be broken.</p>',
            'd' => '<h1>Nothing to see here</h1><p>The page has sailed.</p>',
            'e' => '<h1>This thread has been removed by the moderators</h1>',
            'f' => '<h1>Product discontinued</h1><p>The product you are looking for is no longer sold.</p>',
        ] as $name => $body) {
            $this->scene('en-lost-'.$name, 'vanished soft-404', self::lone(self::en('Quay Weekly', $body)));
        }
        foreach ([
            'a' => '<p>This article is for members.</p><p>Sign in or become a member to read it.</p>',
            'b' => '<h2>Keep reading with a free account</h2><button>Create account</button>',
            'c' => '<p>Unlock the full story by subscribing.</p>',
        ] as $name => $gate) {
            $this->scene(
                'en-gate-'.$name,
                'blocked login',
                self::lone(self::en(
                    'On keels', '<article><h1>On keels</h1><p>A keel is what a boat stands on when nobody looks.</p>'.$gate.'</article>',
                )),
            );
        }
    }

    private function others(): void
    {
        $this->scene(
            'el-edo',
            'alive ok',
            self::lone(self::page(
                'Δρομολόγια',
                '<h1>Δρομολόγια</h1><p>Το πλοίο της γραμμής δεν εκτελεί δρομολόγιο την Κυριακή. Εισιτήρια στο πρακτορείο.</p>',
            )),
        );
        $this->scene(
            'el-chathike',
            'vanished soft-404',
            self::lone(self::page('Ο Φάρος', '<h1>Δεν βρέθηκε η σελίδα</h1><p>Ίσως έχει μετακινηθεί. Δοκιμάστε την αναζήτηση.</p>')),
        );
        $this->scene(
            'el-afairethike',
            'vanished soft-404',
            self::lone(self::page('Ο Φάρος', '<h1>Ο Φάρος</h1><p>Το περιεχόμενο αυτό έχει αφαιρεθεί.</p>')),
        );
        $this->scene(
            'el-cookies',
            'blocked consent',
            self::all(self::page(
                'Ο Φάρος',
                '<h1>Σεβόμαστε το απόρρητό σας</h1><p>Εμείς και οι συνεργάτες μας χρησιμοποιούμε cookies.</p><button>Αποδοχή όλων</button>',
            )),
        );
        $this->scene('ja-aru', 'alive ok', self::lone(self::page('欠航情報', '<h1>本日の欠航</h1><p>強風のため午後の便はすべて欠航します。払い戻しは窓口で行います。</p>')));
        $this->scene('ja-nai', 'vanished soft-404', self::lone(self::page('潮新聞', '<h1>ページが見つかりませんでした</h1><p>URLをご確認ください。</p>')));
        $this->scene('zh-mei', 'vanished soft-404', self::lone(self::page('潮报', '<h1>抱歉</h1><p>您访问的页面不存在或已被删除。</p>')));
        $this->scene(
            'ru-net',
            'vanished soft-404',
            self::lone(self::page('Газета', '<h1>Такой страницы нет</h1><p>Возможно, она была удалена или никогда не существовала.</p>')),
        );
        $this->scene(
            'ar-la', 'vanished soft-404', self::lone(self::page('الجريدة', '<h1>عذراً</h1><p>الصفحة التي طلبتها لم تعد متاحة.</p>')),
        );
        $this->scene(
            'es-no',
            'vanished soft-404',
            self::lone(self::page('El Faro', '<h1>Error 404</h1><p>No encontramos la página que buscas.</p>')),
        );
        $this->scene(
            'it-no',
            'vanished soft-404',
            self::lone(self::page('Il Faro', '<h1>Ci dispiace</h1><p>Il contenuto richiesto non è disponibile.</p>')),
        );
        $this->scene('tr-yok', 'vanished soft-404', self::lone(self::page('Fener', '<h1>Sayfa bulunamadı</h1>')));
        $this->scene(
            'pl-nie', 'vanished soft-404', self::lone(self::page('Latarnia', '<h1>Ups</h1><p>Nie mogliśmy znaleźć tej strony.</p>')),
        );
        $this->scene(
            'pl-jest',
            'alive ok',
            self::lone(self::page(
                'Prom', '<h1>Prom nie kursuje</h1><p>Do piątku prom nie kursuje z powodu wiatru. Bilety zachowują ważność.</p>',
            )),
        );
    }

    private function byManner(): void
    {
        $stories = implode(
            '',
            array_map(
                static fn (int $n): string =>
                    "<div class=card><a href=/s/{$n}>Story {$n} of the coast</a><p>What happened at pier {$n}, who saw it, and what the"
                        .' board says to that.</p></div>',
                range(1, 12),
            ),
        );
        $this->scene('all-the-same-with-cards', 'vanished soft-404', self::all(self::en('Home', '<h1>Stories</h1>'.$stories)));
        $this->scene(
            'lone-with-cards',
            'alive ok',
            static fn (Request $r): Response => Response::html(
                static::PATH === $r->path
                    ? self::en('Stories of May', '<h1>Stories of May</h1>'.$stories)
                    : self::en('Home', '<h1>Home</h1><p>Pick a month.</p>'),
            ),
        );
        $this->scene(
            'page-not-found-with-cards',
            'vanished soft-404',
            self::lone(self::en('Page not found', '<h1>Page not found</h1><h2>Read instead</h2>'.$stories)),
        );
        $this->scene(
            'page-not-found-with-cards-held',
            'vanished soft-404',
            self::lone(self::en('Page not found', '<h1>Page not found</h1><h2>Read instead</h2>'.$stories)),
            held: self::page(
                'On keels',
                '<h1>On keels</h1><p>A keel is what a boat stands on when nobody looks. Ours is of oak and was laid in the year of the'
                    .' comet, by two brothers who did not speak to each other before it was done, nor after.</p>',
            ),
        );
        $this->scene(
            'turning-cards',
            'vanished soft-404',
            static fn (): Response => Response::html(self::en(
                'Home',
                '<h1>For you</h1><ul>'
                    .implode(
                        '',
                        array_map(
                            static fn (): string => '<li>Pier '.random_int(1, 400).', seen at '.random_int(1, 12).' o’clock',
                            range(1, 6),
                        ),
                    )
                    .'</ul>',
            )),
        );
        $this->scene(
            'to-start-with-notice',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(self::en('Quay Weekly', '<h1>Quay Weekly</h1>'.$stories))
                : Response::redirect('/?notfound=1', 302),
        );
        $this->scene(
            'www-front', 'vanished home-redirect', static fn (): Response => Response::redirect('https://www.www-front.fourth.test/', 301),
        );
        $this->scene(
            'www.www-front',
            'alive ok',
            static fn (): Response => Response::html(self::en('Quay Weekly', '<h1>Quay Weekly</h1>'.$stories)),
            '/',
            scheme: 'https',
        );
        $this->scene(
            'search-in-place',
            'vanished soft-404',
            static fn (Request $r): Response => '/find' === $r->path
                ? Response::html(self::en('Find', '<h1>Find</h1><p>0 results for '.htmlspecialchars(urldecode($r->query)).'</p>'))
                : Response::redirect('/find?q='.rawurlencode(basename($r->path, '.html')), 302),
        );
        $this->scene('new-year-new-path', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            static::PATH => Response::redirect('/archiv/2021/hafen-bericht', 301), '/archiv/2021/hafen-bericht' => Response::html(self::en(
                'Report', '<h1>Report</h1><p>Forty pages on the quay.</p>',
            )), default => self::notFound(),
        });
        $this->scene(
            'challenge-by-script',
            'blocked challenge',
            static fn (): Response => Response::html(
                '<html><head><title></title></head><body><noscript>Please enable JS and disable any ad blocker</noscript><div'
                    .' class="captcha"></div></body></html>',
                403,
            ),
        );
        $this->scene(
            'too-busy',
            'unreachable server-error',
            static fn (): Response => Response::html('<h1>Too busy</h1>', 503)->with('Retry-After', '120'),
        );
    }

    private static function de(string $title, string $body): string
    {
        return self::framed(
            'de',
            $title.' | Küstenbote',
            ['Nachrichten', 'Wetter', 'Gezeiten', 'Anzeigen', 'Abo', 'Über uns'],
            $body,
            ['Meistgelesen', 'Kran rutscht wieder', 'Kohle wird teurer', 'Hering ist zurück'],
            'Küstenbote, Am Kai 4. Alle Rechte vorbehalten. Impressum. Datenschutz.',
        );
    }

    private static function fr(string $title, string $body): string
    {
        return self::framed(
            'fr',
            $title.' - Le Phare',
            ['Accueil', 'Nouvelles', 'Marées', 'Annonces', 'S’abonner', 'Contact'],
            $body,
            ['Les plus lus', 'La grue glisse encore', 'Le charbon augmente', 'Le hareng est revenu'],
            'Le Phare, 3 quai des Moules. Tous droits réservés. Mentions légales. Cookies.',
        );
    }

    private static function en(string $title, string $body): string
    {
        return self::framed(
            'en',
            $title.' – Quay Weekly',
            ['News', 'Tides', 'Boats', 'Jobs', 'Subscribe', 'Sign in'],
            $body,
            ['Most read', 'Crane slips again', 'Coal goes up', 'Herring is back'],
            'Quay Weekly, 12 Rope Walk. All rights reserved. Privacy. Cookies.',
        );
    }

    /**
     * @param list<string> $menu
     * @param list<string> $beside
     */
    private static function framed(string $language, string $title, array $menu, string $body, array $beside, string $foot): string
    {
        $links = static fn (array $words): string => '<ul>'
            .implode('', array_map(static fn (mixed $word): string => '<li><a href=/x>'.(\is_string($word) ? $word : '').'</a>', $words))
            .'</ul>';

        return '<!doctype html><html lang='.$language.'><head><meta charset=utf-8><title>'.htmlspecialchars($title)
            .'</title></head><body><div class=top>'.$links($menu).'<form><input name=q></form></div><main>'.$body
            .'</main><div class=side><h4>'.array_shift($beside).'</h4>'.$links($beside).'</div><footer>'.$foot.'</footer></body></html>';
    }
}
