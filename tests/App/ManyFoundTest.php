<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Search\Engine;
use Ypomna\App\Search\IndexEntries;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Role;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Search\Part;
use Ypomna\Core\Search\Piece;
use Ypomna\Core\Search\Writing;

/**
 * Of very many results the index counts most: what it says is held against what is known of the pages that were made up, for whoever sees
 * everything, something, or what everybody sees.
 */
final class ManyFoundTest extends ApiTestCase
{
    private const PAGES = 700;

    /** @var array<int, array{site: string, tag: string, language: string, texts: array<int, array{years: list<int>, isFound: bool}>}> */
    private array $pages = [];
    /** @var array<int, true> pages whose captures of 2021 are for some only */
    private array $limited = [];
    /** @var array<int, true> of them those that Wren Aldous sees */
    private array $seen = [];
    private string $own;
    private string $custodian;

    protected function setUp(): void
    {
        parent::setUp();
        self::service(Engine::class)->clear();
        $this->own = $this->token('Wren Aldous', Role::Keeper);
        $this->custodian = $this->token('Bram Hollis', Role::Custodian);
        $this->makeUp();
        while (self::service(IndexEntries::class)->fill()) {
            continue;
        }
    }

    public function testEachPageIsCountedOnceWhateverItsTexts(): void
    {
        $this->holds('before anything is limited');
        // Some that stand alone, some that have other texts.
        foreach ([14 => true, 15 => false, 16 => true, 21 => true, 22 => false, 35 => true, 119 => true, 120 => false] as $page => $isOwn) {
            $this->limited[$page] = true;
            if ($isOwn) {
                $this->seen[$page] = true;
            }
            $capture = $this->captureOf('http://made.test/'.$page, '2021-12-01');
            self::service(CaptureLimits::class)->say(new Actor($isOwn ? 'Wren Aldous' : 'Hale Morrow'), $capture, true);
        }
        // In which years these stood for whom, nobody tells before the index knows.
        $this->holds('before the index was told', ['year' => 0]);
        $entries = self::service(IndexEntries::class);
        $entries->follow(array_keys($entries->stale()));
        $this->holds('after the index was told');
    }

    public function testASecondTextOfAPageIsSeenAsSuch(): void
    {
        $this->addText(1, 2030, true, 900_000);
        $this->addText(2, 2031, false, 900_001);
        self::service(IndexEntries::class)->fill();
        $this->holds('with new texts of pages that had one');
        $this->database()->executeStatement('DELETE FROM search_stand WHERE capture_id = 900000');
        unset($this->pages[1]['texts'][900_000]);
        self::service(IndexEntries::class)->follow([900_000]);
        $this->holds('without one of them');
    }

    public function testAllThatAreMuchAlikeAreBelowTheBestOfThem(): void
    {
        $like = Fingerprint::ofWords(array_map(static fn (int $n): string => 'word'.$n, range(1, 200)));
        self::assertNotNull($like);
        // Every second one, so that enough others are left to be shown.
        $this->database()->executeStatement(
            'UPDATE search_text SET likeness = ? WHERE subject_id % 2 = 0', [$like->pack()], [ParameterType::BINARY],
        );
        $found = $this->ask('GET', '/api/find?q=winch&fold=near&order=oldest', $this->reader);
        self::assertIsArray($found['items']);
        // More than are put in order where nothing is folded.
        self::assertGreaterThan(180, max(0, ...array_column($found['items'], 'near')));
        self::assertSame($this->expected(static fn (int $page): bool => true), $this->counts($found), 'All are counted singly.');
    }

    /** @param array<string, int> $without what is not told then */
    private function holds(string $when, array $without = []): void
    {
        $seers = [
            'whoever sees everything' => [$this->custodian, static fn (int $page): bool => true],
            'whoever sees some' => [$this->own, fn (int $page): bool => !isset($this->limited[$page]) || isset($this->seen[$page])],
            'everybody' => [$this->reader, fn (int $page): bool => !isset($this->limited[$page])],
        ];
        foreach ($seers as $who => [$token, $sees]) {
            $expected = array_diff_key($this->expected($sees), $without);
            foreach (['relevance', 'newest', 'title'] as $order) {
                $found = $this->ask('GET', '/api/find?q=winch&limit=100&order='.$order, $token);
                self::assertSame($expected, array_diff_key($this->counts($found), $without), "{$who}, {$when}, by {$order}");
            }
        }
        // What is gone through page by page has each once, and is counted the same on each.
        $expected = array_diff_key($this->expected($seers['whoever sees some'][1]), $without);
        $codes = [];
        $facets = null;
        $path = '/api/find?q=winch&limit=100';
        do {
            $found = $this->ask('GET', $path, $this->own);
            self::assertSame($facets ?? $found['facets'], $found['facets'], 'In the same order, too.');
            self::assertSame($expected, array_diff_key($this->counts($found), $without), $when);
            $facets = $found['facets'];
            self::assertIsArray($found['items']);
            $codes = [...$codes, ...array_filter(array_column($found['items'], 'code'), \is_string(...))];
            $path = \is_string($found['next']) ? (string) preg_replace('#^https?://[^/]+#', '', $found['next']) : null;
        } while (null !== $path);
        self::assertCount(\count(array_unique($codes)), $codes, 'None comes twice.');
        self::assertIsInt($found['total']);
        self::assertCount($found['total'], $codes);
    }

    /**
     * @param \Closure(int): bool $sees whether the captures of 2021 of a page are seen
     *
     * @return array<string, array<array-key, int>>
     */
    private function expected(\Closure $sees): array
    {
        $counts = ['total' => [0], 'year' => [], 'site' => [], 'language' => [], 'tag' => []];
        foreach ($this->pages as $number => $page) {
            $years = [];
            foreach ($page['texts'] as $text) {
                foreach ($text['isFound'] ? $text['years'] : [] as $year) {
                    if (2021 !== $year || $sees($number)) {
                        $years[$year] = true;
                    }
                }
            }
            if ([] === $years) {
                continue;
            }
            ++$counts['total'][0];
            foreach (array_keys($years) as $year) {
                $counts['year'][$year] = ($counts['year'][$year] ?? 0) + 1;
            }
            foreach (['site', 'language', 'tag'] as $name) {
                if ('' !== $page[$name]) {
                    $counts[$name][$page[$name]] = ($counts[$name][$page[$name]] ?? 0) + 1;
                }
            }
        }
        foreach (array_keys($counts) as $name) {
            ksort($counts[$name]);
        }

        return $counts;
    }

    /**
     * @param array<string, mixed> $found
     *
     * @return array<string, array<array-key, int>>
     */
    private function counts(array $found): array
    {
        self::assertIsInt($found['total']);
        $counts = ['total' => [$found['total']]];
        foreach (['year', 'site', 'language', 'tag'] as $name) {
            $facets = $found['facets'];
            self::assertIsArray($facets);
            /** @var list<array{value: string, count: int}> $values */
            $values = $facets[$name];
            $counts[$name] = array_column($values, 'count', 'value');
            ksort($counts[$name]);
        }

        return $counts;
    }

    /** Each has a capture of 2021; every fifth another text in 2023, of which every second says the word no more. */
    private function makeUp(): void
    {
        $this->database()->executeStatement("INSERT INTO warc_file (id, path, sha256, bytes, origin, given_name, stored_at, records)
            VALUES (90000, 'made-up.warc.gz', UNHEX(SHA2('x', 256)), 1, 'own', '', NOW(), 1)");
        $id = 800_000;
        for ($n = 1; $n <= self::PAGES; ++$n) {
            $this->pages[$n] = [
                'site' => 'site'.($n % 9).'.test', 'tag' => 0 === $n % 4 ? 'rope' : '', 'language' => ['en', 'de', ''][$n % 3],
                'texts' => [],
            ];
            $this->database()->insert('address', [
                'id' => $n + 800_000, 'url_key' => AddressKeys::keyOf('http://made.test/'.$n), 'url' => 'http://made.test/'.$n,
                'code' => 'a'.str_pad(strtr((string) $n, '01', 'xy'), 11, 'z', \STR_PAD_LEFT), 'captures' => 1, 'first_at' => '2021-01-01',
                'last_at' => '2021-01-01', 'last_alive_at' => '2021-01-01', 'open_last_at' => '2021-01-01',
            ]);
            $this->addText($n, 2021, 0 !== $n % 50, ++$id);
            if (0 === $n % 5) {
                $this->addText($n, 2023, 0 === $n % 10, ++$id);
            }
        }
    }

    private function addText(int $page, int $year, bool $isFound, int $id): void
    {
        $at = $year.'-06-01 10:00:00';
        $code = 'c'.str_pad(strtr((string) $id, '01', 'xy'), 11, 'z', \STR_PAD_LEFT);
        $of = $this->pages[$page];
        $writing = (new Writing([
            new Piece(Part::Title, 'Title '.$page % 40), new Piece(Part::Main, ($isFound ? 'The winch of ' : 'Nothing of ').$year),
        ], $of['language']))->about(['made.test']);
        $this->database()->insert('capture', [
            'id' => $id, 'address_id' => $page + 800_000, 'captured_at' => $at, 'code' => $code, 'url' => 'http://made.test/'.$page,
            'warc_file_id' => 90_000, 'response_offset' => $id, 'status' => 200, 'title' => 'Title', 'mime' => 'text/html', 'parts' => 1,
            'bytes' => 10, 'agent' => '', 'how' => 'plain',
        ]);
        $this->database()->insert('search_text', [
            'id' => $id, 'kind' => 0, 'subject_id' => $page + 800_000, 'digest' => $writing->digest(), 'language' => $of['language'],
            'site' => $of['site'], 'title' => $writing->pieces[0]->text, 'body' => $writing->pack(), 'is_cut' => 0, 'tags' => $of['tag'],
        ]);
        $this->database()->insert('search_stand', [
            'capture_id' => $id, 'text_id' => $id, 'address_id' => $page + 800_000, 'code' => $code, 'captured_at' => $at, 'limited' => 0,
        ]);
        $this->pages[$page]['texts'][$id] = ['years' => [$year], 'isFound' => $isFound];
    }

    private function database(): Connection
    {
        return self::service(Connection::class);
    }
}
