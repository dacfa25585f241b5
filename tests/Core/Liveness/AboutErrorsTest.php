<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Liveness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\PageSigns;

/** Texts about error pages, names for sale and closed accounts, and pages that are such: the first are never called gone. */
final class AboutErrorsTest extends TestCase
{
    #[DataProvider('texts')]
    public function testATextAboutItIsNone(string $language, string $title, string $body): void
    {
        $page = self::page($language, $title, $body);
        self::assertFalse($page->saysGone());
        self::assertFalse($page->isParked());
        self::assertFalse($page->has(Trouble::Soft404));
    }

    /** @return iterable<string, array{string, string, string}> language, title, body */
    public static function texts(): iterable
    {
        yield 'error pages' => ['de', 'Fehlerseiten richtig gestalten', '<h1>Seite nicht gefunden</h1><p>Jeder kennt sie: die Meldung,'
            .' dass eine Seite nicht gefunden wurde.</p>'
            .'<p>Wer seine Fehlerseite freundlich gestaltet, verliert weniger Besucher. Eine Suche und ein Satz, der erklärt, was'
                .' geschehen ist, genügen oft schon. '
            .'Viele Redaktionen legen außerdem eine Liste der meistgelesenen Texte dazu.</p><p>Wichtig ist der richtige Status, denn nur'
                .' daran erkennen Programme den Fehler.</p>'];
        yield 'dead links' => ['de', 'Nicht gefunden', '<h1>Nicht gefunden</h1><p>Über tote Links und die Kunst, sie zu'
            .' melden.</p><p>Der Inhalt ist nicht mehr verfügbar: Diesen Satz lesen wir täglich. '
            .'Dahinter steht meist keine Absicht, sondern ein Umzug. Eine Untersuchung der Häfen am Merrow Sound zeigt, dass nach fünf'
                .' Jahren die Hälfte aller Verweise ins Leere führt. '
            .'Archive helfen dagegen, doch nur dem, der rechtzeitig sichert.</p>'];
        yield 'names for sale' => ['en', 'Domains for sale: what a name is worth', '<h1>Domains for sale: what a name is'
            .' worth</h1><p>This domain is for sale, says the page, and asks four thousand for eleven letters.</p>'
            .'<p>We asked three owners of harbour towns’ names. Most bought them in the nineties for a few coins and wait. For a museum'
                .' that lost its name the lesson is simple.</p>'];
        yield 'how to buy one' => ['en', 'Buying a domain name', '<h1>How to buy a domain that is taken</h1><p>The domain you want is'
            .' taken and for sale? Make an offer through a broker.</p>'
            .'<p>Look up who owns it, ask what they want, and never pay before the transfer.</p>'];
        yield 'a market of names' => ['de', 'Domain zu verkaufen', '<h1>Domain zu verkaufen: ein Markt der Namen</h1><p>Diese Domain'
            .' steht zum Verkauf: Der Satz steht auf Millionen Seiten. '
            .'Dahinter stehen Händler, die lange auf den Richtigen warten. Der Preis richtet sich nach Länge, Klang und Endung des'
                .' Wortes.</p>'];
        yield 'accounts' => ['en', 'When accounts are suspended', '<h1>When accounts are suspended</h1><p>Your account has been'
            .' suspended: the sentence reached forty harbour guides in March. The company gave no reason for it to anybody. '
            .'We asked it for one, and we asked the guides what they lost.</p>'];
    }

    #[DataProvider('messages')]
    public function testAPageThatIsOneIsCalledSo(string $what, string $title, string $body): void
    {
        $page = self::page('en', $title, $body);
        self::assertSame($what, $page->saysGone() ? 'gone' : ($page->isParked() ? 'parked' : 'there'));
    }

    /** @return iterable<string, array{string, string, string}> */
    public static function messages(): iterable
    {
        yield 'not found' => [
            'gone',
            'Seite nicht gefunden',
            '<h1>Seite nicht gefunden</h1><p>Die angeforderte Seite existiert nicht oder wurde verschoben. Bitte prüfen Sie die'
                .' Adresse.</p>',
        ];
        yield 'for sale' => ['parked', 'petrel.test', '<h1>petrel.test is for sale</h1><p>Make an offer. Fast and secure transfer.</p>'];
        yield 'for sale, with small print' => ['parked', 'x', '<h1>petrel.test is for sale</h1><p>Our brokers have helped thousands of'
            .' buyers over the past twenty years. '
            .'All payments are held in trust until the transfer has been completed by us. Prices that you see here do not include taxes'
                .' of any kind.</p>'];
        yield 'expired, in Polish' => ['parked', 'x', '<p>Ta domena jest na sprzedaż.</p>'];
        yield 'suspended' => [
            'parked',
            'Account Suspended',
            '<h1>Account Suspended</h1><p>This account has been suspended. Contact your hosting provider for more information.</p>',
        ];
    }

    private static function page(string $language, string $title, string $body): PageSigns
    {
        $url = Url::parse('http://petrel.test/about');
        $html = "<!doctype html><html lang={$language}><meta charset=utf-8><title>{$title}</title><nav><a href=/>Start</a></nav>"
            ."<main>{$body}</main>";

        return PageSigns::of(new CheckResult($url, $url, [], 200, 'text/html', 'text/html; charset=utf-8', $html));
    }
}
