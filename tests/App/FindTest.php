<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTags;
use Ypomna\App\Search\Engine;
use Ypomna\App\Search\Indexer;
use Ypomna\App\Search\ItemIndexer;
use Ypomna\App\Search\Message\FollowTag;
use Ypomna\App\Search\Message\FollowTexts;
use Ypomna\App\Search\Message\IndexItem;
use Ypomna\App\Search\TagFollower;
use Ypomna\App\Search\Texts;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** Finding by words, as programs do it. */
final class FindTest extends ApiTestCase
{
    private const SEAL = 'http://lantern.test/seal';
    private const HARBOUR = 'http://www.harbour.test/notice';
    private const GREEK = 'http://nisi.test/thalassa';

    protected function setUp(): void
    {
        parent::setUp();
        self::service(Engine::class)->clear();
        $page = static fn (string $title, string $body, string $lang = 'en'): string => '<html lang="'.$lang.'"><title>'.$title
            .'</title><nav>Home contact</nav><main>'.$body.'</main>';
        $this->keep(self::SEAL, '2022-03-01', $page('The seal', '<h1>Grey seal</h1><p>The grey seal leaks forty centimetres of water.'));
        $this->keep(self::SEAL, '2023-03-01', $page('The seal', '<h1>Grey seal</h1><p>The grey seal leaks forty centimetres of water.'));
        $this->keep(self::SEAL, '2024-03-01', $page('The seal', '<h1>Grey seal</h1><p>The grey seal is under review.'));
        $this->keep(self::SEAL, '2025-03-01', $page('The seal', '<h1>Grey seal</h1><p>The grey seal leaks forty centimetres of water.'));
        $this->keep(self::HARBOUR, '2024-05-01',
            $page('Notice of the harbour', '<p>Ferries leave at noon. A seal on grey rocks.<p>Straße 東京の天気'
            .'<img alt="two gulls" src=x><details><summary>More</summary>folded words</details><p hidden>hidden words'));
        $this->keep(self::GREEK, '2024-06-01', $page('Θάλασσα', '<p>Οι θάλασσες του κόσμου είναι βαθιές.', 'el'));
        $this->index();
    }

    public function testAPageIsFoundByOneCaptureThatHasAllWords(): void
    {
        $found = $this->find('forty CENTIMETRES');
        self::assertSame([1, true], [$found['total'], $found['exact']]);
        $item = self::rows($found, 'items')[0];
        self::assertSame(['page', self::SEAL, 'lantern.test'], [$item['kind'], $item['url'], $item['site']]);
        self::assertSame([
            'first' => '2022-03-01T10:00:00.000000Z', 'last' => '2025-03-01T10:00:00.000000Z', 'captures' => 3, 'of' => 4,
        ], $item['stood']);
        $snippet = self::rows($item, 'snippets')[0];
        self::assertIsString($snippet['text']);
        self::assertSame(['forty', 'centimetres'], self::marked($snippet));
        self::assertSame($this->captureOf(self::SEAL)->code, $snippet['capture']);
        self::assertStringEndsWith(
            '/c/'.$this->captureOf(self::SEAL)->code.'?passage=forty%20centimetres', self::text($item, 'open'),
        );
        // In no one capture.
        self::assertSame(0, $this->find('forty review')['total']);
        self::assertSame(1, $this->find('grey review')['total']);
        self::assertSame(1, $this->find('grey -review -noon')['total'], 'A capture without it is enough.');
        self::assertSame(0, $this->find('-review')['total']);
    }

    /** @param list<string> $urls */
    #[DataProvider('questions')]
    public function testWhatIsAskedIsUnderstood(string $asked, array $urls): void
    {
        $found = array_column(self::rows($this->find($asked), 'items'), 'url');
        sort($found);
        sort($urls);
        self::assertSame($urls, $found);
    }

    /** @return iterable<string, array{string, list<string>}> */
    public static function questions(): iterable
    {
        yield 'nothing' => ['', []];
        yield 'signs' => ['"*-', []];
        yield 'a phrase' => ['"grey seal"', [self::SEAL]];
        yield 'both words, apart' => ['grey seal', [self::SEAL, self::HARBOUR]];
        yield 'a phrase over the edge of a paragraph' => ['"rocks strasse"', []];
        yield 'excluded' => ['seal -rocks', [self::SEAL]];
        yield 'a beginning' => ['centim*', [self::SEAL]];
        yield 'inflected' => ['ferry', [self::HARBOUR]];
        yield 'inflected, but quoted' => ['"ferry"', []];
        yield 'inflected Greek, without accents' => ['θαλασσα βαθιες', [self::GREEK]];
        yield 'sharp s' => ['STRASSE', [self::HARBOUR]];
        yield 'Japanese' => ['天気', [self::HARBOUR]];
        yield 'one letter of it' => ['気', [self::HARBOUR]];
        yield 'alt texts' => ['gulls', [self::HARBOUR]];
        yield 'closed details' => ['folded', [self::HARBOUR]];
        yield 'what is hidden' => ['hidden', []];
        yield 'the address' => ['nisi thalassa', [self::GREEK]];
    }

    public function testPagesThatAreMuchAlikeAreOneResultWhereThatIsAskedFor(): void
    {
        $text = '<p>'.implode(' ', array_map(static fn (int $n): string => 'word'.$n.' of the long notice', range(1, 60))).'</p>';
        $page = static fn (string $more): string => '<title>Notice</title><nav>'.$more.'</nav><main><h1>Fogbank</h1>'.$text.$more.'</main>';
        $this->keep('http://one.test/', '2024-07-01', $page('<p>Written here first.'));
        $this->keep('http://two.test/', '2024-07-02', $page('<p>Taken over from elsewhere.'));
        $this->keep('http://three.test/', '2024-07-03', '<title>Fogbank</title><p>'.str_repeat('Another text about the fogbank. ', 9));
        $this->index();
        $each = $this->find('fogbank');
        self::assertSame([3, [0, 0, 0]], [$each['total'], array_column(self::rows($each, 'items'), 'near')]);
        $folded = $this->find('fogbank', ['fold' => 'near']);
        self::assertSame(3, $folded['total'], 'All are counted.');
        self::assertCount(3, self::rows(self::inner($folded, 'facets'), 'site'));
        self::assertCount(2, self::rows($folded, 'items'));
        self::assertEqualsCanonicalizing([0, 1], array_column(self::rows($folded, 'items'), 'near'));
        // Page by page it is the same.
        $first = $this->find('fogbank', ['fold' => 'near', 'limit' => '1']);
        $second = $this->find('fogbank', ['fold' => 'near', 'limit' => '1', 'after' => self::after($first)]);
        self::assertSame(
            array_column(self::rows($folded, 'items'), 'url'),
            [self::rows($first, 'items')[0]['url'], self::rows($second, 'items')[0]['url']],
        );
        self::assertNull($second['next']);
        $this->ask('GET', '/api/find?q=fogbank&fold=all', $this->keeper, null, 400);
    }

    public function testWhatSeveralPagesOfASiteHaveWeighsLittle(): void
    {
        $teasers = '<div>Oilskin found in the reeds</div><div>Nothing else today</div>';
        foreach (range(1, 5) as $n) {
            $this->keep("http://gazette.test/{$n}", '2024-07-0'.$n, '<title>Page '.$n.'</title>'.$teasers.'<p>About the harbour, part '.$n
                .(4 === $n ? '. An oilskin was found by children who had played there; it lay among reeds.' : '. Oilskin, reeds.').'</p>');
        }
        $this->index();
        $found = self::rows($this->find('oilskin found reeds'), 'items');
        self::assertCount(5, $found);
        self::assertSame('http://gazette.test/4', $found[0]['url']);
        self::assertStringStartsWith('About the harbour', self::text(self::rows($found[0], 'snippets')[0], 'text'), 'Shown is the text.');
    }

    public function testATagThatIsCalledOtherwiseIsFoundUnderItsNewName(): void
    {
        $made = $this->ask('POST', '/api/items', $this->keeper, ['kind' => 'note', 'title' => 'Of a buoy', 'tags' => ['adrift']], 201);
        $capture = $this->captureOf(self::HARBOUR);
        self::service(CaptureDescriptions::class)->writeOf(
            new Actor('Ilse Varga'), $capture->code, new CaptureDescription(tags: ['adrift']), false,
        );
        self::service(Indexer::class)->catchUp();
        $this->index();
        self::assertSame(2, $this->find('adrift')['total']);
        $tag = self::service(Tags::class)->byName('adrift');
        self::assertNotNull($tag);
        self::service(ItemTags::class)->change(Viewer::system(), $tag, 'unmoored', null, false);
        self::service(TagFollower::class)->follow(new FollowTag($tag->id));
        self::service(Indexer::class)->catchUp();
        self::service(ItemIndexer::class)->indexItem(new IndexItem(self::service(ItemRepository::class)->byCode(
            Viewer::system(), self::text($made, 'code'),
        )->id ?? 0));
        self::assertSame([0, 2], [$this->find('adrift')['total'], $this->find('unmoored')['total']]);
        self::assertSame(2, $this->find('unmoored', ['tag' => 'unmoored'])['total']);
    }

    public function testItIsNarrowedAndCounted(): void
    {
        $facets = self::inner($this->find('seal'), 'facets');
        self::assertEqualsCanonicalizing([['value' => 'lantern.test', 'count' => 1], ['value' => 'harbour.test', 'count' => 1]],
            $facets['site']);
        self::assertContains(['value' => '2024', 'count' => 2], self::rows($facets, 'year'));
        self::assertContains(['value' => '2022', 'count' => 1], self::rows($facets, 'year'));
        $narrowed = $this->find('seal', ['site' => 'harbour.test']);
        self::assertSame(1, $narrowed['total']);
        self::assertCount(2, self::rows(self::inner($narrowed, 'facets'), 'site'), 'Each facet is counted without itself.');
        self::assertSame([['value' => '2024', 'count' => 1]], self::inner($narrowed, 'facets')['year']);
        self::assertSame(1, $this->find('seal', ['year' => '2023'])['total']);
        self::assertSame(0, $this->find('seal', ['language' => 'el'])['total']);
        self::assertSame([['value' => 'unknown', 'count' => 2]], $facets['state']);
        self::service(Engine::class)->state((int) $this->captureOf(self::SEAL)->address->id, 'vanished');
        self::assertSame(1, $this->find('seal', ['state' => 'vanished'])['total']);
        self::assertSame(1, $this->find('harbour', ['look' => 'descriptions'])['total']);
        self::assertSame(0, $this->find('noon', ['look' => 'descriptions'])['total']);
        $address = $this->captureOf(self::SEAL)->address->code;
        self::assertSame(1, $this->find('seal', ['in' => 'address:'.$address])['total']);
        foreach (['newest' => [self::HARBOUR, self::SEAL], 'oldest' => [self::SEAL, self::HARBOUR], 'title' => [self::HARBOUR, self::SEAL],
            'site' => [self::HARBOUR, self::SEAL]] as $order => $urls) {
            $items = self::rows($this->find('seal', ['order' => $order]), 'items');
            self::assertSame('newest' === $order ? [self::SEAL, self::HARBOUR] : $urls, array_column($items, 'url'), $order);
        }
        $first = $this->find('seal', ['limit' => '1', 'order' => 'title']);
        self::assertSame([self::HARBOUR], array_column(self::rows($first, 'items'), 'url'));
        $second = $this->ask('GET', (string) strstr(self::text($first, 'next'), '/api/'), $this->keeper);
        self::assertSame([self::SEAL], array_column(self::rows($second, 'items'), 'url'));
        self::assertSame([null, 2], [$second['next'], $second['total']]);
    }

    public function testTheBestComesFirst(): void
    {
        self::assertSame([self::SEAL, self::HARBOUR], array_column(self::rows($this->find('grey seal'), 'items'), 'url'));
    }

    public function testAWrongWordIsOfferedAndNotLookedFor(): void
    {
        $found = $this->find('forty centimters');
        self::assertSame([0, 'forty centimetres'], [$found['total'], $found['suggestion']]);
        self::assertNull($this->find('seal')['suggestion']);
        self::assertNull($this->find('zzzzzzzz')['suggestion']);
    }

    public function testWhenWordsStoodOnAPage(): void
    {
        $address = $this->captureOf(self::SEAL)->address->code;
        $life = $this->ask('GET', '/api/addresses/'.$address.'/words?q=centimetres', $this->keeper);
        self::assertSame([
            ['from' => '2022-03-01T10:00:00.000000Z', 'to' => '2023-03-01T10:00:00.000000Z', 'captures' => 2],
            ['from' => '2025-03-01T10:00:00.000000Z', 'to' => '2025-03-01T10:00:00.000000Z', 'captures' => 1],
        ], $life['spans']);
        self::assertSame([3, null], [$life['captures'], $life['absentSince']]);
        $life = $this->ask('GET', '/api/addresses/'.$address.'/words?q=review', $this->keeper);
        self::assertSame([1, '2025-03-01T10:00:00.000000Z'], [$life['captures'], $life['absentSince']]);
        $life = $this->ask('GET', '/api/addresses/'.$address.'/words?q=zebra', $this->keeper);
        self::assertSame([0, null, null, []], [$life['captures'], $life['first'], $life['absentSince'], $life['spans']]);
    }

    public function testBadQuestionsAreRefused(): void
    {
        foreach (['in=x', 'in=dossier:1', 'order=use', 'kind=pages', 'limit=0', 'limit=101', 'year=24', 'look=some', 'after=x',
            'q[]=x'] as $bad) {
            $this->ask('GET', '/api/find?q=x&'.$bad, $this->keeper, status: 400);
        }
        $this->ask('GET', '/api/find?q='.str_repeat('x', 10_001), $this->keeper, status: 422);
        $this->ask('GET', '/api/find?q='.str_repeat('x', 10_000), $this->keeper);
        $this->ask('GET', '/api/find?q=x&in=dossier:222222222222', $this->keeper, status: 404);
        $this->ask('GET', '/api/addresses/222222222222/words?q=x', $this->keeper, status: 404);
        foreach (["' --limit 1", 'a" || 1', "\x00", '\\', '%', '(((', '🦭', "x' \n delete"] as $odd) {
            $this->find($odd);
        }
    }

    public function testWhatBecomesConfidentialIsFoundByNobodyElse(): void
    {
        $secret = $this->captureOf(self::HARBOUR);
        self::service(CaptureLimits::class)->say(new Actor('Ilse Varga'), $secret, true);
        // Even before a worker has told the index.
        self::assertSame(0, $this->find('noon', token: $this->reader)['total']);
        self::assertSame([], self::rows($this->find('noon', token: $this->reader), 'items'));
        foreach (self::service(Texts::class)->limit([$secret->code], true) as $text) {
            self::service(Indexer::class)->followTexts(new FollowTexts($text));
        }
        $hidden = $this->find('seal', token: $this->reader);
        self::assertSame(1, $hidden['total']);
        self::assertStringNotContainsString('harbour', $this->body());
        self::assertNull($this->find('nooon', token: $this->reader)['suggestion']);
        self::assertSame('ferry', $this->find('ferry', token: $this->reader)['understood'], 'No form tells what stands there.');
        $own = $this->token('Tomas Okoye', Role::Keeper);
        self::assertSame('ferry | ferries', $this->find('ferry', token: $own)['understood']);
        self::assertSame(1, $this->find('noon', token: $own)['total'], 'Whoever brought it sees it.');
        // Of a page with open and confidential captures only the open ones are counted.
        self::service(CaptureLimits::class)->say(new Actor('Ilse Varga'), $this->captureOf(self::SEAL), true);
        $item = self::rows($this->find('centimetres', token: $this->reader), 'items')[0];
        self::assertSame([2, 3], [self::inner($item, 'stood')['captures'], self::inner($item, 'stood')['of']]);
        $life = $this->ask('GET', '/api/addresses/'.$this->captureOf(self::SEAL)->address->code.'/words?q=centimetres', $this->reader);
        self::assertSame([2, '2024-03-01T10:00:00.000000Z'], [$life['captures'], $life['absentSince']]);
    }

    public function testWhatIsWrittenBesideACaptureIsFound(): void
    {
        $capture = $this->captureOf(self::HARBOUR);
        self::service(CaptureDescriptions::class)->writeOf(new Actor('Tomas Okoye'), $capture->code, new CaptureDescription(
            'Noon sailings', 'The mate quoted it', ['timetables'],
        ), false);
        self::assertSame(0, $this->find('mate')['total'], 'A worker has not been there yet.');
        self::service(Indexer::class)->catchUp();
        $found = $this->find('mate ferries', ['tag' => 'timetables']);
        self::assertSame(1, $found['total'], 'Text and description together.');
        self::assertSame(1, $this->find('sailings', ['look' => 'descriptions'])['total']);
        self::assertSame(1, $this->find('noon')['total'], 'What it said before went.');
    }

    public function testItemsAreFoundByWhoeverSeesThem(): void
    {
        $item = $this->ask('POST', '/api/items', $this->keeper, [
            'kind' => 'note', 'title' => 'What the mate said', 'note' => "The **winch** was painted.\n\n- twice", 'tags' => ['crew'],
        ], 201);
        $this->index();
        $found = $this->find('winch twice');
        self::assertSame([['note', $item['code'], null]], array_map(
            static fn (array $one): array => [$one['kind'], $one['code'], $one['address']], self::rows($found, 'items'),
        ));
        self::assertSame(1, $this->find('crew', ['look' => 'descriptions', 'kind' => 'note'])['total']);
        self::assertSame([['value' => 'crew', 'count' => 1]], self::inner($found, 'facets')['tag']);
        self::assertSame([1, 0], [$this->find('winch', ['tag' => 'crew'])['total'], $this->find('winch', ['tag' => 'sea'])['total']]);
        self::assertSame(0, $this->find('winch', ['kind' => 'page'])['total']);
        self::assertSame(0, $this->find('winch', token: $this->reader)['total']);
        $this->ask('PATCH', '/api/items/'.self::text($item, 'code'), $this->keeper, ['note' => 'Rope'], 200, [
            'CONTENT_TYPE' => 'application/merge-patch+json', 'HTTP_IF_MATCH' => '"'.self::text($item, 'etag').'"',
        ]);
        $this->index();
        self::assertSame([0, 1], [$this->find('winch')['total'], $this->find('rope')['total']]);
    }

    /**
     * @param array<string, string> $more
     *
     * @return array<string, mixed>
     */
    private function find(string $asked, array $more = [], ?string $token = null): array
    {
        return $this->ask('GET', '/api/find?'.http_build_query(['q' => $asked] + $more), $token ?? $this->keeper);
    }

    /**
     * @param array<string, mixed> $said
     *
     * @return list<array<string, mixed>>
     */
    private static function rows(array $said, string $name): array
    {
        self::assertIsArray($said[$name] ?? null);
        /** @var list<array<string, mixed>> $rows */
        $rows = $said[$name];

        return $rows;
    }

    /**
     * @param array<string, mixed> $said
     *
     * @return array<string, mixed>
     */
    private static function inner(array $said, string $name): array
    {
        self::assertIsArray($said[$name] ?? null);
        /** @var array<string, mixed> $inner */
        $inner = $said[$name];

        return $inner;
    }

    private function keep(string $url, string $day, string $html): void
    {
        $this->takeIn((new WarcBuilder($day))->exchange($url, $day.'T10:00:00Z', $html), $day.'.warc.gz');
    }

    /** @param array<string, mixed> $said */
    private static function after(array $said): string
    {
        parse_str((string) parse_url(self::text($said, 'next'), \PHP_URL_QUERY), $query);
        self::assertIsString($query['after'] ?? null);

        return $query['after'];
    }

    private function index(): void
    {
        for ($behind = 0; null !== $behind;) {
            $behind = self::service(Indexer::class)->portion($behind);
        }
        for ($behind = 0; null !== $behind;) {
            $behind = self::service(ItemIndexer::class)->portion($behind);
        }
    }

    /**
     * @param array<string, mixed> $snippet
     *
     * @return list<string>
     */
    private static function marked(array $snippet): array
    {
        $text = self::text($snippet, 'text');
        $marked = [];
        foreach ((array) $snippet['marks'] as $mark) {
            self::assertIsArray($mark);
            self::assertIsInt($mark[0]);
            self::assertIsInt($mark[1]);
            $marked[] = mb_substr($text, $mark[0], $mark[1] - $mark[0]);
        }

        return $marked;
    }
}
