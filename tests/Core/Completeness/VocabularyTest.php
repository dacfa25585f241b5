<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Completeness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Completeness\Saying;
use Ypomna\Core\Completeness\TroubleWords;

/** What sentences say of themselves, in many languages; and sentences that only sound like it. */
final class VocabularyTest extends TestCase
{
    #[DataProvider('messages')]
    public function testSaysThatItIsGone(string $sentence): void
    {
        self::assertContains(TroubleWords::gone($sentence), [Saying::Plainly, Saying::Wholly]);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function messages(): iterable
    {
        yield from self::named([
            'The page you were looking for doesn’t exist.', 'This post is unavailable.', 'Sorry, that file could not be found',
            'The listing you requested has been deleted.', 'Your link has expired', 'Story withdrawn', 'Error 404', '404 – Page not found',
            'HTTP 410',
            'Der Link ist leider abgelaufen.', 'Diese Anzeige wurde gelöscht', 'Die aufgerufene Seite ist nicht vorhanden.',
            'Le fichier demandé est introuvable', 'Cette page n’est plus accessible.', 'La página solicitada no fue encontrada',
            'El anuncio ha caducado', 'La pagina che cerchi è stata rimossa',
            'Il link è scaduto', 'O artigo foi removido pelo autor', 'Esta página já não existe', 'Deze pagina kon niet worden gevonden',
            'Het bericht is verlopen', 'Sidan du söker finns inte', 'Artiklen findes ikke længere', 'Siden kunne ikke finnes',
            'Sivua ei löydy', 'Strona, której szukasz, nie została znaleziona', 'Ogłoszenie wygasło',
            'Požadovaný článek byl smazán', 'Az oldal nem található', 'Pagina pe care o cauți nu există', 'Το αρχείο διαγράφηκε',
            'Η σελίδα που ψάχνετε δεν υπάρχει', 'Материал удалён по просьбе автора', 'Страница недоступна или удалена',
            'Сторінку видалено автором, її більше немає', 'Страницата не беше открита', 'Stranica koju tražite ne postoji',
            'Aradığınız sayfa silinmiş olabilir', 'Trang bạn tìm không tồn tại', 'Halaman yang Anda cari tidak tersedia', 'الملف غير موجود',
            'تم حذف المنشور', 'مطلب مورد نظر یافت نشد', 'הקישור אינו קיים', 'ファイルは削除されました', '该链接已失效', '삭제된 페이지입니다',
            'ไม่พบหน้าที่คุณต้องการ', 'यह पेज उपलब्ध नहीं है',
        ]);
    }

    #[DataProvider('texts')]
    public function testSoundsLikeIt(string $sentence): void
    {
        self::assertContains(TroubleWords::gone($sentence), [Saying::No, Saying::Perhaps]);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function texts(): iterable
    {
        yield from self::named([
            'The ferry did not run on Sunday.', 'Nobody was found in the boat.', 'Lost: a grey cat', 'The council removed the bench.',
            'Gone with the tide', 'Missing since Friday', 'He no longer lives on the island.', 'Nothing was found behind the door.',
            'In 1404 the bridge burned.', 'Room 404 is on the fourth floor.',
            'Der Kapitän wurde nicht gefunden.', 'Die Brücke gibt es nicht mehr.', 'On n’a pas retrouvé la clef.',
            'No había barcos en el puerto.', 'Il ponte non c’è più.', 'Судно не нашли.', 'Το πλοίο δεν έφυγε.', '船は見つかった。', '', '   ',
            'A page of the log tells how the crew sat in the harbour for eleven days since they could not find a pilot who would take'
                .' them out.',
        ]);
    }

    public function testAnOfferThatEndedIsGoneOnlyWhereATextWasLost(): void
    {
        foreach (['This offer has ended', 'Das Angebot ist beendet', 'This item has been sold', 'Anzeige verkauft'] as $sentence) {
            self::assertSame(Saying::No, TroubleWords::gone($sentence), $sentence);
            self::assertNotSame(Saying::No, TroubleWords::gone($sentence, true), $sentence);
        }
    }

    public function testAHeadingThatSaysNothingElse(): void
    {
        self::assertSame(Saying::Wholly, TroubleWords::gone('Page not found'));
        self::assertSame(Saying::Plainly, TroubleWords::gone('Help: page not found, and what else old bookmarks lead to'));
        self::assertSame(Saying::Perhaps, TroubleWords::gone('Nothing found, a play'));
    }

    #[DataProvider('names')]
    public function testVacantNames(string $sentence, bool $isVacant): void
    {
        self::assertSame($isVacant, TroubleWords::isVacant($sentence, 'www.skerry.test'));
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function names(): iterable
    {
        foreach ([
            'skerry.test is for sale' => true, 'This domain may be for sale' => true, 'Diese Domain steht zum Verkauf' => true,
            'Ce nom de domaine est à vendre' => true, 'Este dominio está en venta' => true, 'Il dominio è scaduto' => true,
            'Domena na sprzedaż' => true, 'Домен продаётся' => true, '域名出售' => true, 'このドメインは販売中です' => true,
            'This account has been suspended' => true, 'Website deaktiviert' => true, 'Diese Website wurde deaktiviert' => true,
            'This is the default page of the server' => true, 'Hier entsteht eine neue Internetpräsenz' => true,
            'The house at skerry.example is for sale' => false, 'Boats for sale' => false, 'The ferry is suspended' => false,
            'Our domain is the sea' => false, 'Buy this lamp' => false,
        ] as $sentence => $isVacant) {
            yield $sentence => [$sentence, $isVacant];
        }
    }

    #[DataProvider('gates')]
    public function testGates(string $sentence, bool $isGate): void
    {
        self::assertSame($isGate, TroubleWords::isForSome($sentence));
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function gates(): iterable
    {
        foreach ([
            'Subscribe to continue reading' => true, 'Log in to read the full story' => true,
            'This article is only for subscribers' => true, 'Mit einem Abo weiterlesen' => true, 'Pour lire la suite, abonnez-vous' => true,
            'Suscríbase para seguir leyendo' => true, 'Registrati per leggere l’articolo' => true, 'Assine para continuar lendo' => true,
            'Word lid om verder te lezen' => true, 'Συνδεθείτε για να διαβάσετε τη συνέχεια' => true,
            'Оформите подписку, чтобы читать дальше' => true, 'Devamını okumak için abone olun' => true, '続きを読むには会員登録が必要です' => true,
            '登录后阅读全文' => true,
            'Subscribe to our newsletter to read more' => false, 'She is a member of the crew.' => false,
            'Der Verein hat neun Mitglieder.' => false, 'Read more' => false, 'The register of ships lies open.' => false,
        ] as $sentence => $isGate) {
            yield $sentence => [$sentence, $isGate];
        }
    }

    public function testEveryExpressionCompilesAndTakesAnyBytes(): void
    {
        foreach (["\xff\xfe\x00", str_repeat('a ', 50_000), "\u{202e}404", str_repeat('page not ', 4_000)] as $bytes) {
            TroubleWords::gone($bytes, true);
            TroubleWords::isVacant($bytes, 'x');
            TroubleWords::isForSome($bytes);
            TroubleWords::helps($bytes);
            self::assertSame(\PREG_NO_ERROR, preg_last_error());
        }
    }

    /**
     * @param list<string> $sentences
     *
     * @return iterable<string, array{string}>
     */
    private static function named(array $sentences): iterable
    {
        foreach ($sentences as $n => $sentence) {
            yield $n.' '.$sentence => [$sentence];
        }
    }
}
