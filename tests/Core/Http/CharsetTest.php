<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\Charset;
use Ypomna\Tests\Support\ProcessorTime;

final class CharsetTest extends TestCase
{
    private const RUSSIAN = 'Паром отведён в порт из-за повреждённого уплотнения кормовой двери. Пассажиров просят обратиться в кассу.';

    /** @return iterable<string, array{string, string, ?string}> encoding, document, Content-Type */
    public static function documents(): iterable
    {
        $long = str_repeat('<p>The ferry was held in port.</p>', 60);
        yield 'the mark stands above all' => ['utf-8', "\xEF\xBB\xBF<meta charset=koi8-r>", 'text/html; charset=windows-1251'];
        yield 'then the field' => ['windows-1251', '<meta charset=koi8-r>', 'text/html; charset=windows-1251'];
        yield 'a quoted parameter' => ['gbk', '', 'text/html; a="x;charset=koi8-r"; Charset="GB2312"'];
        yield 'the first parameter counts' => ['big5', '', 'text/html;charset=big5;charset=gbk'];
        yield 'an unknown label does not' => ['koi8-r', '<meta charset=koi8-r>', 'text/html; charset=utf-9'];
        yield 'meta' => ['iso-8859-7', '<html><meta charset="greek">', null];
        yield 'meta with http-equiv' => ['shift_jis', '<meta content="text/html; charset=x-sjis" http-equiv=Content-Type>', null];
        yield 'content without http-equiv' => ['windows-1252', "<meta content='text/html; charset=koi8-r'>\xE9", null];
        yield 'meta in a comment' => ['windows-1252', "<!-- <meta charset=koi8-r> -->\xE9", null];
        yield 'a comment of three signs' => ['koi8-r', '<!--><meta charset=koi8-r> -->', null];
        yield 'meta in an attribute' => ['windows-1252', "<p title='<meta charset=koi8-r>'>\xE9", null];
        yield 'a further meta after one that says nothing' => ['koi8-u', '<meta charset=nonsense><meta charset=koi8-u>', null];
        yield 'meta far behind' => ['windows-1255', $long.'<meta charset=windows-1255>', null];
        yield 'meta far behind, in a script' => ['utf-8', $long.'<script>document.write("<meta charset=windows-1255>")</script>', null];
        yield 'UTF-16 in a meta' => ['utf-8', '<meta charset=utf-16>', null];
        yield 'x-user-defined in a meta' => ['windows-1252', '<meta charset=x-user-defined>', null];
        yield 'an XML declaration' => ['iso-8859-2', '<?xml version="1.0" encoding="ISO-8859-2"?><html>', null];
        yield 'a meta stands above it' => ['big5', '<?xml version="1.0" encoding="ISO-8859-2"?><meta charset=big5>', null];
        yield 'XML knows no meta' => ['utf-8', "<html><meta charset='koi8-r'/>\xE9", 'application/xhtml+xml'];
        yield 'XML with a declaration' => ['koi8-r', '<?xml version="1.0" encoding="koi8-r"?><html/>', 'application/xhtml+xml'];
        yield 'UTF-16 without a mark' => ['utf-16le', "<\0?\0x\0m\0l\0", null];
        yield 'a style sheet' => ['windows-1251', '@charset "windows-1251"; a{}', 'text/css'];
        yield 'a rule that is not quite one' => ['utf-8', "@charset 'windows-1251'; a{}", 'text/css'];
        yield 'a tag that does not end' => ['utf-8', '<p a="<meta charset=koi8-r>', null];
    }

    #[DataProvider('documents')]
    public function testWhatADocumentSaysIsReadAsTheStandardHasIt(string $encoding, string $document, ?string $type): void
    {
        self::assertSame($encoding, Charset::detect($document, $type));
    }

    /** @return iterable<string, array{string, string, string}> iconv’s name, language, text */
    public static function undeclared(): iterable
    {
        $greek = 'Το πλοίο παραμένει στο λιμάνι, επειδή η σφράγιση της πίσω πόρτας είχε βλάβη. Οι επιβάτες ας απευθυνθούν στο ταμείο.';
        $hebrew = 'המעבורת נשארת בנמל בגלל תקלה באטם הדלת האחורית. הנוסעים מתבקשים לפנות לקופה.';
        $polish = 'Prom pozostaje w porcie, ponieważ uszczelka tylnych drzwi była uszkodzona. Pasażerów prosimy o zgłoszenie się do'
            .' kasy, żeby zwrócić należność.';
        yield 'Russian' => ['windows-1251', 'ru', self::RUSSIAN];
        yield 'Russian of the mail' => ['koi8-r', 'ru', self::RUSSIAN];
        yield 'Russian of the consoles' => ['cp866', 'ru', self::RUSSIAN];
        yield 'Ukrainian' => [
            'koi8-u', 'uk', 'Пором залишається в порту через пошкодження ущільнення дверей. Її пасажирів просять звернутися до каси.',
        ];
        yield 'Greek' => ['iso-8859-7', 'el', $greek];
        yield 'Hebrew' => ['windows-1255', 'he', $hebrew];
        yield 'Arabic' => ['windows-1256', 'ar', 'تبقى العبارة في الميناء بسبب عطل في الباب الخلفي. يرجى من الركاب مراجعة شباك التذاكر.'];
        yield 'Chinese' => ['gb18030', 'zh-CN', '由于后门密封件损坏，渡轮停留在港口。请乘客到售票处办理退票手续。'];
        yield 'Chinese of Taiwan' => ['big5', 'zh-TW', '由於後門密封件損壞，渡輪停留在港口。請乘客到售票處辦理退票手續。'];
        yield 'Japanese' => ['cp932', 'ja', '後部扉の密封材が損傷したため、フェリーは港に留まっています。お客様は窓口へお越しください。'];
        yield 'Japanese of Unix' => ['euc-jp', 'ja', '後部扉の密封材が損傷したため、フェリーは港に留まっています。お客様は窓口へお越しください。'];
        yield 'Japanese of the mail' => ['iso-2022-jp', 'ja', '後部扉の密封材が損傷したため、フェリーは港に留まっています。'];
        yield 'Korean' => ['cp949', 'ko', '뒷문 밀봉재가 손상되어 여객선이 항구에 머물고 있습니다. 승객은 매표소로 문의하십시오.'];
        yield 'Polish' => ['iso-8859-2', 'pl', $polish];
        yield 'Polish of Windows' => ['windows-1250', 'pl', $polish];
        yield 'Czech' => [
            'windows-1250',
            'cs',
            'Trajekt zůstává v přístavu, protože těsnění zadních dveří bylo poškozeno. Žádáme cestující, aby se obrátili na pokladnu.',
        ];
        yield 'Hungarian' => [
            'iso-8859-2',
            'hu',
            'A komp a kikötőben marad, mert a hátsó ajtó tömítése megsérült. Kérjük az utasokat, forduljanak a pénztárhoz, mielőbb.',
        ];
        yield 'Turkish' => [
            'windows-1254',
            'tr',
            'Feribot, arka kapı contası hasar gördüğü için limanda bekliyor. Yolcuların gişeye başvurmaları rica olunur, şimdilik.',
        ];
        yield 'Thai' => ['cp874', 'th', 'เรือเฟอร์รี่จอดอยู่ที่ท่าเรือเพราะซีลประตูท้ายชำรุด ผู้โดยสารโปรดติดต่อเคาน์เตอร์'];
        yield 'German' => [
            'windows-1252',
            'de',
            'Die Fähre bleibt im Hafen, weil die Dichtung der Hecktür beschädigt war. Größere Verspätungen sind möglich.',
        ];
        yield 'French' => [
            'windows-1252',
            'fr',
            'Le bac reste au port à cause d’un joint abîmé de la porte arrière. Les passagers s’adresseront au guichet, où on les aidera.',
        ];
    }

    #[DataProvider('undeclared')]
    public function testATextThatSaysNothingOfItsEncodingIsRead(string $charset, string $language, string $text): void
    {
        $bytes = (string) iconv('UTF-8', $charset, $text);
        $page = static fn (string $attributes): string => '<!doctype html><html'.$attributes.'><title>Petrel Dawn</title><body><p>'.$bytes
            .'</p>';
        foreach (['', ' lang="'.$language.'"', ' lang=en'] as $attributes) {
            self::assertStringContainsString($text, Charset::text($page($attributes)), $charset.$attributes);
        }
        // Cut anywhere it is still read.
        self::assertStringContainsString(mb_substr($text, 0, 25), Charset::text(substr($page(''), 0, -5)));
        self::assertStringContainsString(mb_substr($text, 0, 25), Charset::text(substr($page(''), 0, -6)));
    }

    public function testALanguageDecidesWhereTheLettersAreTooFew(): void
    {
        $short = '<html lang=pl><title>P</title><p>'.iconv('UTF-8', 'windows-1250', 'Łódź');
        self::assertStringContainsString('Łódź', Charset::text($short));
        self::assertStringContainsString('Łódź', Charset::text(str_replace('lang=pl', 'lang="pl-PL" class=x', $short)));
        self::assertStringContainsString(
            'café “open”', Charset::text('<p>The '.iconv('UTF-8', 'windows-1252', 'café “open”').' until Monday'),
        );
    }

    public function testALanguageOfTwoScriptsIsReadInItsOwn(): void
    {
        $latin = 'Luka je zatvorena za brodove zbog jake oluje. Vlasti mole stanovnike da ne izlaze na obalu do ponedeljka ujutru, još'
            .' će čekati žestoku kišu.';
        self::assertStringContainsString($latin, Charset::text('<html lang="sr-Latn"><p>'.iconv('UTF-8', 'windows-1250', $latin)));
        $cyrillic = 'Лука је затворена за бродове због јаке олује. Власти моле становнике да не излазе на обалу до понедељка ујутру.';
        self::assertStringContainsString($cyrillic, Charset::text('<html lang="sr"><p>'.iconv('UTF-8', 'windows-1251', $cyrillic)));
    }

    public function testAFewFaultsDoNotMakeUtf8AnythingElse(): void
    {
        $page = '<p>'.self::RUSSIAN."</p>\xD0<p>".self::RUSSIAN."</p>\xFF";
        self::assertSame('utf-8', Charset::detect($page));
        self::assertStringContainsString(self::RUSSIAN."</p>\u{FFFD}<p>", Charset::text($page));
        self::assertSame('utf-8', Charset::detect(substr(str_repeat('ж', 200_000), 0, 262_145)));
    }

    public function testTimeDoesNotGrowWithHostileMarkup(): void
    {
        foreach ([
            '<script>', '<style ', '<!--', '<meta charset="', '<a b=\'', '</', '<script>x</style>', "<\xE9",
            '<meta content=charset=charset=',
        ] as $piece) {
            $from = ProcessorTime::seconds();
            Charset::text(str_repeat($piece, 120_000)."\xE9");
            self::assertLessThan(10.0, ProcessorTime::seconds() - $from, $piece);
        }
    }
}
