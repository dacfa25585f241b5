<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Standin\Site\Abroad;
use Ypomna\Standin\Site\Board;
use Ypomna\Standin\Site\Corvane;
use Ypomna\Standin\Site\Lantern;
use Ypomna\Standin\Site\Mirror;
use Ypomna\Standin\Site\Operator;
use Ypomna\Standin\Site\PetrelFan;
use Ypomna\Standin\Site\Tidewatch;
use Ypomna\Standin\Web\Authority;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Site;
use Ypomna\Tests\Support\Folder;

/** What the sites of the demo's web say on which day. */
final class StandinSitesTest extends TestCase
{
    #[DataProvider('days')]
    public function testEachDayHasItsPage(
        Site $site,
        string $address,
        string $day,
        int $status,
        string $says,
        string $encoding = 'UTF-8',
    ): void {
        $url = parse_url('http://'.$address);
        self::assertIsArray($url);
        $now = new \DateTimeImmutable($day);
        self::assertContains($url['host'] ?? '', $site->hosts($now));
        $request = new Request(
            $url['host'] ?? '', false, 'GET', $url['path'] ?? '/', $url['query'] ?? '',
            MessageHead::parse("GET / HTTP/1.1\r\nHost: x\r\n\r\n"), '', $now,
        );
        $response = $site->answer($request);
        self::assertSame($status, $response->status());
        self::assertStringContainsString(
            $says, (string) mb_convert_encoding(implode('', iterator_to_array($response->bytes('GET', $now), false)), 'UTF-8', $encoding),
        );
    }

    public function testTheDraftsReferencesStoodThereWhenTheyWereRead(): void
    {
        $draft = (string) file_get_contents(\dirname(__DIR__, 2).'/demo/draft/ten-weeks-on-the-sound.md');
        self::assertSame(
            32, preg_match_all('/^\[\^\d+\]: .*<(https?:[^>]+)> \(accessed (\d+ \w+ \d{4})\)\.$/m', $draft, $notes, \PREG_SET_ORDER),
        );
        $html = (string) file_get_contents(\dirname(__DIR__, 2).'/demo/draft/ten-weeks-on-the-sound.html');
        $gone = [];
        foreach ($notes as [, $address, $day]) {
            self::assertSame(200, self::answered($address, $day.' 12:00'), $address.' on '.$day);
            self::assertStringContainsString('<a href="'.$address.'">', $html);
            $gone[self::answered($address, '2026-03-05 12:00')][] = $address;
        }
        self::assertGreaterThan(10, \count($gone[200] ?? []));
        self::assertGreaterThan(2, \count($gone[404] ?? []));
    }

    /** What is answered there on that day; 0 if the name has lapsed. */
    private static function answered(string $address, string $day): int
    {
        $now = new \DateTimeImmutable($day);
        $url = (array) parse_url($address);
        $host = \is_string($url['host'] ?? null) ? $url['host'] : '';
        foreach ([new Operator(), new Lantern(), new Board(), new Tidewatch(), new Corvane(), new Abroad(), new PetrelFan()] as $site) {
            if (\in_array($host, $site->hosts($now), true)) {
                return $site->answer(new Request(
                    $host, 'https' === ($url['scheme'] ?? ''), 'GET', \is_string($url['path'] ?? null) ? $url['path'] : '/', '',
                    MessageHead::parse("GET / HTTP/1.1\r\nHost: x\r\n\r\n"), '', $now,
                ))
                    ->status();
            }
        }

        return 0;
    }

    public function testACertificateExpiresOnItsDay(): void
    {
        self::assertSame([], (new Abroad())->lapsed(new \DateTimeImmutable('2025-05-31')));
        self::assertSame(
            ['porthmeia-aliki.test', 'www.porthmeia-aliki.test'], (new Abroad())->lapsed(new \DateTimeImmutable('2025-06-01')),
        );
        $folder = new Folder();
        $authority = new Authority($folder->path);
        $path = $authority->issue(['a.test', 'b.test']);
        foreach ([[$path, true], [Authority::lapsed($path), false]] as [$file, $valid]) {
            $read = openssl_x509_parse((string) file_get_contents($file));
            self::assertIsArray($read);
            self::assertSame(
                'DNS:a.test, DNS:b.test', \is_array($read['extensions'] ?? null) ? $read['extensions']['subjectAltName'] ?? null : null,
            );
            self::assertSame($valid, $read['validTo_time_t'] > time() + 1);
            self::assertSame(
                1, openssl_x509_verify((string) file_get_contents($file), (string) file_get_contents($authority->certificate())),
            );
        }
        self::assertSame($path, $authority->issue(['a.test', 'b.test']));
    }

    /** @return iterable<string, array{0: Site, 1: string, 2: string, 3: int, 4: string, 5?: string}> */
    public static function days(): iterable
    {
        $board = new Board();
        yield 'the report' => [$board, 'board.merrow-sound.test/reports/2024/petrel-dawn', '2024-11-20', 200, 'Replace within 90 days'];
        yield 'the report, withdrawn' => [
            $board, 'board.merrow-sound.test/reports/2024/petrel-dawn', '2025-03-02', 404, 'no such document',
        ];
        yield 'the report, moved around' => [
            $board, 'board.merrow-sound.test/reports/2024/petrel-dawn', '2026-02-01', 200, 'We have moved things around',
        ];
        yield 'the register' => [$board, 'board.merrow-sound.test/register', '2024-11-20', 200, 'MS 400'];
        yield 'a licence, suspended' => [$board, 'board.merrow-sound.test/register', '2024-11-20', 200, 'suspended'];
        yield 'minutes that are not written yet' => [$board, 'board.merrow-sound.test/minutes/2024-11', '2024-11-20', 404, ''];
        $forum = new Tidewatch();
        yield 'a post' => [$forum, 'forum.tidewatch.test/t/118', '2024-11-15', 200, 'Forty centimetres of water'];
        yield 'the post, edited' => [$forum, 'forum.tidewatch.test/t/118', '2024-12-15', 200, '[edited]'];
        yield 'a post, deleted' => [$forum, 'forum.tidewatch.test/t/118', '2025-02-01', 200, 'This post was deleted.'];
        yield 'the last page of the thread' => [$forum, 'forum.tidewatch.test/t/118?page=4', '2024-12-15', 200, 'id="p34"'];
        yield 'behind a login' => [$forum, 'forum.tidewatch.test/t/118', '2025-09-01', 302, '/login?next=%2Ft%2F118'];
        $abroad = new Abroad();
        yield 'Greek in an old encoding' => [$abroad, 'porthmeia-aliki.test/nea.html', '2024-11-20', 200, 'καπετάνιος', 'ISO-8859-7'];
        yield 'Greek, and changed' => [$abroad, 'porthmeia-aliki.test/asfaleia', '2024-12-20', 200, 'αντικαταστάθηκε'];
        yield 'Japanese in an old encoding' => [$abroad, 'kaikyo-seal.test/products/ks400', '2025-03-01', 200, '五年', 'SJIS'];
        yield 'the fan page' => [new PetrelFan(), 'old.petrel-fan.test/', '2024-11-20', 200, 'FRAMESET'];
        yield 'the fan page, gone' => [new PetrelFan(), 'old.petrel-fan.test/', '2025-01-02', 404, 'Not Found'];
        $mirror = new Mirror([new Operator(), new Lantern()]);
        yield 'another archive\'s list' => [
            $mirror,
            'mirror.sound-archive.test/list/http://merrowline.test/people',
            '2026-03-01',
            200,
            'rel="last memento"; datetime="Sun, 11 Aug 2024 14:48:30 GMT"',
        ];
        yield 'its list on an earlier day' => [
            $mirror, 'mirror.sound-archive.test/list/http://merrowline.test/people', '2024-05-01', 200, 'Sat, 27 Apr 2024 01:02:03 GMT',
        ];
        yield 'its copy' => [
            $mirror,
            'mirror.sound-archive.test/copy/0/http://merrowline.test/people',
            '2026-03-01',
            200,
            'Memento-Datetime: Sat, 27 Apr 2024 01:02:03 GMT',
        ];
        yield 'what it does not hold' => [
            $mirror, 'mirror.sound-archive.test/gate/http://merrowline.test/nothing', '2026-03-01', 404, 'do not hold',
        ];
    }

    public function testAServerThatBreaksEverythingOff(): void
    {
        $now = new \DateTimeImmutable('2026-02-01');
        self::assertTrue((new Abroad())
            ->answer(new Request(
                'kaikyo-seal.test', false, 'GET', '/', '', MessageHead::parse("GET / HTTP/1.1\r\nHost: x\r\n\r\n"), '', $now,
            ))
            ->resets());
    }
}
