<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Routing\Route;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Lists\PageLists;
use Ypomna\App\Capture\Sites\Crawls;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\FindingAids;
use Ypomna\App\Desk\Glosses;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Exchange\Value\SaidOfArrival;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\Search\Engine;
use Ypomna\App\Search\Indexer;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Recurrence\ChangeNotice;
use Ypomna\Tests\Support\WarcBuilder;

/**
 * Every route is asked by people who may not see what is confidential: with nothing, with each code of it, with its address and its words.
 * None of its words, addresses, codes or digests may come back; and where the question has them, the answer is word for word the one to the
 * same question about what there is nothing of.
 */
final class CanaryTest extends AppTestCase
{
    /** Stands in every word, name and address of what is confidential, and nowhere else. */
    private const CANARY = 'qzcanary';
    /** Stands nowhere. */
    private const TWIN = 'qzdouble';
    private const PAGE = 'http://lantern.test/stern-door';
    private const SECRET = 'http://qzcanary.test/kept-for-two';
    private const LATER = 'http://qzcanary.test/was-open-once';

    /** @var list<string> of what is confidential */
    private array $codes = [];
    /** @var list<string> */
    private array $digests = [];
    private string $open;

    protected function setUp(): void
    {
        parent::setUp();
        foreach (['Ilse Varga' => Role::Keeper, 'Nerys Quill' => Role::Reader, 'Bram Hollis' => Role::Administrator] as $name => $role) {
            $this->person($name, $role);
        }
        self::forgetHowOften();
        $actor = new Actor('Ilse Varga');
        $maker = Viewer::person('Ilse Varga', Role::Keeper);
        $this->open = $this->brought(self::PAGE, '2024-11-03T10:00:00Z', '<title>Stern door</title><p>Checked.', false);
        $this->brought(self::PAGE, '2024-11-04T10:00:00Z', '<title>qzcanary in between</title><p>qzcanary words', true);
        $secret = $this->brought(self::SECRET, '2024-11-05T10:00:00Z', '<title>qzcanary title</title><p>qzcanary words', true);
        $later = $this->brought(self::LATER, '2024-11-06T10:00:00Z', '<title>qzcanary once</title><p>qzcanary words', false);
        // While it was open, others worked with it.
        $everybody = Viewer::person('Someone Else', Role::Keeper);
        $watch = self::service(WatchRequests::class)->begin(
            new Actor('Someone Else'), $everybody, new WatchWish(WatchScope::Host, 'http://qzother.test/', 'The host'),
        );
        self::service(WatchEvents::class)->enter(
            $watch, EventKind::Changed, null, self::LATER, new ChangeNotice('qzcanary before', 'qzcanary after'), $later,
        );
        $own = self::service(WatchRequests::class)->begin(
            $actor, $maker, new WatchWish(WatchScope::Address, self::LATER, 'qzcanary watch'),
        );
        self::service(CheckQueue::class)->want(array_values(self::service(CheckQueue::class)->ids($everybody, [Url::parse(self::LATER)])));
        self::service(CaptureLimits::class)->say($actor, $this->captureOf(self::LATER), true);
        $job = self::service(CaptureRequests::class)->ask($actor, 'http://qzcanary.test/asked-for', confidential: true);
        self::service(CaptureDescriptions::class)->write(
            $actor, $job, new CaptureDescription('qzcanary title', 'qzcanary reason', ['qzcanary tag']),
        );
        $list = self::service(PageLists::class)->begin(
            $actor, 'qzcanary list', ['http://qzcanary.test/listed'], CaptureMode::Plain, null, true,
        );
        $crawl = self::service(Crawls::class)
            ->begin($actor, new SiteOptions(['http://qzcanary.test/'], 'qzcanary site', confidential: true));
        $dossier = self::service(Dossiers::class)->make($actor, new DossierChange('qzcanary dossier'));
        self::service(Dossiers::class)->lay($actor, $dossier, $secret);
        $arrival = self::service(Arrivals::class)->begin($actor, 'qzcanary.warc', 7, 0, null, new SaidOfArrival(confidential: true));
        $parcel = self::service(Parcels::class)->ask($maker, new ParcelOptions([$secret], [], false));
        self::service(CheckQueue::class)->ids($maker, [Url::parse(self::SECRET)]);
        // What lies on the desk: in a dossier of theirs, in none, under another one, and beside a page that everybody reads.
        $items = self::service(Items::class);
        $item = $items->make($actor, $maker, ItemKind::Note, new ItemSubject(null, self::SECRET), new ItemChange(
            'qzcanary item', 'qzcanary summary', "- [ ] qzcanary to-do\n", new \DateTimeImmutable('2024-11-01'), addTags: ['qzcanary tag'],
            addDossiers: [$dossier->code], fields: ['date' => '2024-11-05', 'qzcanary field' => 'x'],
        ));
        $below = $items->make($actor, $maker, ItemKind::Note, new ItemSubject(), new ItemChange('qzcanary below', parent: $item->code));
        $waits = $items->make($actor, $maker, ItemKind::Capture, new ItemSubject($secret), new ItemChange('qzcanary waits'));
        $link = self::service(Glosses::class)->write($actor, $maker, $this->captureOf(self::PAGE), ['exact' => 'Checked.'],
            'qzcanary gloss');
        $undo = $items->change($actor, $maker, [$item], new ItemChange(important: true))[1];
        $aid = self::service(FindingAids::class)->make($actor, $maker, $dossier, 'qzcanary aid', '', true);
        $chosen = self::service(FindingAids::class)->make($actor, $maker, [$item], 'qzcanary chosen', '', false);
        $file = self::service(Attachments::class)->add(
            $actor, $item, $this->folder->file('qzcanary.txt', 'qzcanary words'), 'qzcanary.txt', 'text/plain',
        );
        array_push($this->codes, $aid, $chosen, $file->code);
        self::service(Engine::class)->clear();
        self::service(Indexer::class)->portion(0);
        array_push($this->codes, $item->code, $below->code, $waits->code, $link->code, $link->from->code, $undo);
        array_push($this->codes, $job->code, $list->code, $crawl->code, $dossier->code, $arrival->code, $parcel->code, $own->code);
    }

    /** @return iterable<string, array{string, Role, int}> with how many of the codes are tried */
    public static function people(): iterable
    {
        yield 'a reader' => ['Nerys Quill', Role::Reader, 3];
        yield 'another keeper' => ['Someone Else', Role::Keeper, 100];
        yield 'an administrator' => ['Bram Hollis', Role::Administrator, 3];
    }

    #[DataProvider('people')]
    public function testNoRouteTellsOfWhatIsConfidential(string $name, Role $role, int $codes): void
    {
        $this->signIn($name, $role);
        $told = $twins = [];
        foreach ($this->questions($codes) as [$route, $path]) {
            // What somebody has typed themselves they are told again; here nothing else may be.
            self::service(Connection::class)->executeStatement('DELETE FROM search_question');
            $this->get($path);
            $said = rawurldecode($this->body().' '.$this->header('Location').' '.$this->header('Link'));
            if (!str_contains($path, self::CANARY) && !$this->hasCode($path)) {
                $found = $this->found($said);
                $told = [...$told, ...array_map(static fn (string $one): string => "{$route} {$path}: {$one}", $found)];
                continue;
            }
            $first = [$this->answered(), $this->neutral($said)];
            // Of what there is nothing of, every code is as good as another.
            $kind = $this->neutral($path);
            if (!isset($twins[$kind])) {
                $this->get($this->twin($path));
                $twins[$kind] = [$this->answered(), $this->neutral(
                    rawurldecode($this->body().' '.$this->header('Location').' '.$this->header('Link')),
                )];
            }
            $twin = $twins[$kind];
            if ($first !== $twin) {
                $told[] = "{$route} {$path}: ".implode(' against ', [$first[0], $twin[0]]).' '.self::difference($first[1], $twin[1]);
            }
        }
        self::assertSame([], $told);
    }

    /** The same test finds what it looks for where somebody may see it. */
    public function testWhoeverMaySeesIt(): void
    {
        $this->signIn('Ilse Varga', Role::Keeper);
        $seen = [];
        foreach ($this->questions() as [$route, $path]) {
            $this->get($path);
            if ([] !== $this->found(str_replace($path, '', rawurldecode($this->body())))) {
                $seen[$route] = true;
            }
        }
        foreach ([
            'first', 'read', 'address', 'find', 'captures', 'capture_job', 'lists', 'list', 'sites', 'site', 'events', 'watches', 'watch',
            'dossiers', 'dossier', 'item', 'intake', 'intake_list', 'todos', 'tags', 'tag', 'chronology', 'glosses', 'import', 'export',
            'capture_text', 'raw', 'capture_parts', 'timemap', 'events_atom', 'item_history', 'dossier_history', 'collected_fields',
            'item_ties', 'item_branch', 'finding_aids', 'finding_aid', 'finding_aid_ead', 'due_calendar', 'item_names', 'tag_names',
            'dossier_names', 'item_suggestions', 'search', 'address_words',
            'search_complete', 'capture_finds',
        ] as $route) {
            if ('capture_text' !== $route) {
                self::assertArrayHasKey($route, $seen, $route);
            }
        }
    }

    public function testNoProgramIsToldOfIt(): void
    {
        $this->signOut();
        [, $token] = self::service(Tokens::class)
            ->add(new Actor('The test'), $this->person('Someone Else', Role::Keeper), Scope::cases(), 30);
        $told = [];
        foreach ($this->apiQuestions() as [$method, $path, $body]) {
            [$status, $said] = $this->program($method, $path, $body, $token);
            $hasIt = str_contains($path.$body, self::CANARY) || $this->hasCode($path.$body);
            if (!$hasIt) {
                $told = [...$told, ...array_map(static fn (string $one): string => "{$method} {$path}: {$one}", $this->found($said))];
                continue;
            }
            [$twinStatus, $twin] = $this->program($method, $this->twin($path), $this->twin($body), $token);
            if ([$status, $this->neutral($said)] !== [$twinStatus, $this->neutral($twin)]) {
                $told[] = "{$method} {$path} {$body}: {$status} {$said} against {$twinStatus} {$twin}";
            }
        }
        self::assertSame([], $told);
    }

    public function testAHostOfItsOwnIsNobodysButTheirs(): void
    {
        $account = $this->signIn('Nerys Quill', Role::Reader);
        $code = $this->codes[1];
        foreach (['', '-s', '-o'] as $mark) {
            self::assertSame("There is no such capture.\n", $this->page(self::SECRET, $code, $mark));
            self::assertSame(404, $this->answered());
        }
        self::assertSame('Nerys Quill', $account->name);
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('qzcanary words', $this->page(self::SECRET, $code));
    }

    public function testWhatIsMadeOfReferencesLeadsNowhereConfidential(): void
    {
        $this->signIn('Someone Else', Role::Keeper);
        $list = self::service(ReferenceLists::class)->begin(
            new Actor('Someone Else'), $this->folder->file('a.txt', 'See '.self::PAGE.' and more.'), 'a.txt',
        );
        $rows = self::service(ReferenceLists::class)->rows(Viewer::person('Someone Else', Role::Keeper), $list);
        self::assertCount(1, $rows);
        self::assertSame([], $this->found((string) json_encode($rows)));
    }

    /**
     * Each route that is read, with every code and pair of codes, every address and word.
     *
     * @return \Generator<int, array{string, string}> name and path
     */
    private function questions(int $codes = 100): \Generator
    {
        $queries = [
            '', '?q='.rawurlencode(self::SECRET), '?q=qzcanary', '?q=qzcanary.test/*', '?of='.$this->codes[0],
            '?q='.rawurlencode(self::LATER),
            '?one='.$this->open.'&other='.rawurlencode(self::SECRET), '?one='.$this->codes[0].'&other='.$this->open,
            '?c[]='.$this->open.'&c[]='.$this->codes[0], '?address='.$this->codes[1].'&c[]='.$this->codes[0],
            '?url='.rawurlencode(self::SECRET),
            '?one=qzcanary.test&other=lantern.test', '?with='.$this->codes[0], '?against='.$this->codes[0], '?after='.$this->codes[1],
        ];
        foreach (self::service(RouterInterface::class)->getRouteCollection()->all() as $name => $route) {
            if (!\in_array('GET', $route->getMethods(), true) || 1 === preg_match('/^(?:api_|sign_in)/', $name)) {
                continue;
            }
            foreach ($this->paths($route, $codes) as $path) {
                yield [$name, $path];
                $own = 1 === preg_match('~\{|^/(?:me|people|sign|health)~', $route->getPath());
                foreach ($own ? [] : \array_slice($queries, 0, 2 * $codes) as $query) {
                    yield [$name, $path.$query];
                }
            }
        }
    }

    /** @return list<string> */
    private function paths(Route $route, int $codes): array
    {
        $all = [$this->open, ...\array_slice($this->codes, 0, $codes)];
        $values = [
            'code' => $all, 'one' => [$this->open, $this->codes[0]], 'other' => [$this->open, $this->codes[0]], 'tile' => ['0'],
            'number' => ['0', '1'], 'format' => ['json', 'csv'], 'form' => ['html', 'json', 'csv', 'txt'],
            'name' => ['pages.mhtml', 'qzcanary tag'],
            'moment' => ['2024-11-05T00:00:00Z'], 'tag' => ['qzcanary tag', 'doors'], 'url' => [self::SECRET, self::PAGE],
            'from' => ['0'], 'mark' => ['0'], 'rule' => ['222222222222'], 'act' => ['end'], 'at' => ['0'], 'key' => ['0'],
        ];
        $paths = [$route->getPath()];
        /** @var list<string> $variables */
        $variables = $route->compile()->getPathVariables();
        foreach ($variables as $variable) {
            $more = [];
            foreach ($paths as $path) {
                foreach ($values[$variable] ?? ['x'] as $value) {
                    $more[] = str_replace('{'.$variable.'}', 'url' === $variable ? $value : rawurlencode($value), $path);
                }
            }
            $paths = $more;
        }

        return $paths;
    }

    /** @return \Generator<int, array{string, string, string}> method, path and body */
    private function apiQuestions(): \Generator
    {
        foreach (self::service(RouterInterface::class)->getRouteCollection()->all() as $name => $route) {
            if (!str_starts_with($name, 'api_')) {
                continue;
            }
            foreach ([] === $route->getMethods() ? ['GET'] : $route->getMethods() as $method) {
                foreach ($this->codes as $code) {
                    $path = str_replace(
                        ['{code}', '{one}', '{capture}', '{other}', '{prefix}', '{path}', '{name}', '{number}'],
                        [$code, $code, $this->codes[0], $this->codes[0], substr(hash('sha256', self::SECRET), 0, 5), '',
                            'qzcanary%20tag', '1'],
                        $route->getPath(),
                    );
                    yield [$method, $path, 'GET' === $method ? '' : '{}'];
                    yield [$method, $path, 'GET' === $method ? '' : '{"confidential":false,"name":"x","capture":"'.$this->codes[0].'"}'];
                }
            }
        }
        yield ['GET', '/api/addresses?url='.rawurlencode(self::SECRET), ''];
        yield ['GET', '/api/addresses?url='.rawurlencode(self::LATER), ''];
        yield ['GET', '/api/addresses?url='.rawurlencode(self::PAGE), ''];
        $open = $this->captureOf(self::PAGE)->address->code;
        foreach (['qzcanary', 'words', 'checked', 'qzcanar*', 'qzcanry', 'qzcanaries', '"qzcanary words"', 'checked -qzcanary', 'kept two',
            'x'] as $asked) {
            yield ['GET', '/api/find?q='.rawurlencode($asked), ''];
            yield ['GET', '/api/find?look=descriptions&order=newest&q='.rawurlencode($asked), ''];
            yield ['GET', '/api/find?in=address:'.$open.'&q='.rawurlencode($asked), ''];
            yield ['GET', '/api/addresses/'.$open.'/words?q='.rawurlencode($asked), ''];
        }
        foreach ($this->codes as $n => $code) {
            yield ['GET', '/api/find?q=checked&in='.['dossier', 'item', 'address'][$n % 3].':'.$code, ''];
        }
        foreach (['tag=qzcanary+tag', 'kind=note', 'due=before:2030-01-01', 'sorted=false', 'order=title', 'important=true'] as $query) {
            foreach (['', '.json', '.csv'] as $form) {
                yield ['GET', '/api/items'.$form.'?'.$query, ''];
            }
        }
        foreach ($this->codes as $code) {
            yield ['POST', '/api/captures', '{"url":"http://lantern.test/a","dossier":"'.$code.'"}'];
            yield ['POST', '/api/dossiers', '{"name":"x","parent":"'.$code.'"}'];
            yield ['POST', '/api/dossiers', '{"name":"x","template":"'.$code.'"}'];
            yield ['POST', '/api/items', '{"parent":"'.$code.'"}'];
            yield ['POST', '/api/items', '{"dossiers":["'.$code.'"]}'];
            yield ['POST', '/api/items', '{"subject":{"capture":"'.$code.'"}}'];
            yield ['POST', '/api/items/batch', '{"codes":["'.$code.'"],"set":{"title":"x"}}'];
            yield ['POST', '/api/todos', '{"item":"'.$code.'","line":1,"text":"qzcanary to-do","done":true}'];
            foreach (['dossier', 'within', 'parent', 'capture'] as $where) {
                yield ['GET', '/api/items?'.$where.'='.$code, ''];
            }
            foreach (['warc', 'mhtml', 'raw', 'text', 'picture/0', 'thumb', 'source', 'parts', 'parts/0/warc', 'parts/0/file'] as $file) {
                yield ['GET', '/c/'.$code.'/'.$file, ''];
            }
        }
    }

    /** @return array{int, string} status and answer */
    private function program(string $method, string $path, string $body, string $token): array
    {
        ob_start();
        $this->client->request($method, $path, server: [
            'HTTP_AUTHORIZATION' => 'Bearer '.$token, 'CONTENT_TYPE' => 'application/json', 'HTTP_IF_MATCH' => '"x"',
        ], content: $body);
        ob_end_clean();

        return [$this->answered(), $this->body()];
    }

    private function brought(string $url, string $at, string $body, bool $confidential): string
    {
        $bytes = (new WarcBuilder($url.$at))->exchange($url, $at, $body)->bytes();
        self::service(Importer::class)->file(
            $this->folder->file(($confidential ? 'qzcanary' : 'open').hash('crc32b', $url.$at).'.warc.gz', $bytes), new Actor('Ilse Varga'),
            $confidential,
        );
        $capture = $this->captureOf($url, $at);
        if (self::PAGE !== $url || $confidential) {
            $this->codes[] = $capture->code;
            $this->digests[] = $capture->warcFile->sha256;
            $this->digests[] = (string) $capture->payloadSha256;
        }
        if (self::PAGE !== $url) {
            $this->codes[] = $capture->address->code;
        }

        return $capture->code;
    }

    private function hasCode(string $text): bool
    {
        return [] !== array_filter($this->codes, static fn (string $code): bool => str_contains($text, $code));
    }

    /** @return list<string> what of it stands in an answer */
    private function found(string $said): array
    {
        $found = [];
        foreach ([self::CANARY, ...$this->codes, ...$this->digests] as $one) {
            $at = stripos($said, $one);
            if (false !== $at) {
                $found[] = mb_strcut(mb_scrub($said), max(0, $at - 60), 160);
            }
        }

        return $found;
    }

    /** The same question about what there is nothing of. */
    private function twin(string $question): string
    {
        $codes = array_combine($this->codes, array_map(static fn (string $code): string => Codes::of('no '.$code), $this->codes));

        return strtr(str_replace(
            substr(hash('sha256', self::SECRET), 0, 5), substr(hash('sha256', 'nothing'), 0, 5), $question,
        ), $codes + [self::CANARY => self::TWIN]);
    }

    /** What of an answer may differ with each question: tokens, and what was asked for. */
    private function neutral(string $said): string
    {
        $said = (string) preg_replace(
            ['/name="_token" value="[^"]*"/', '/nonce="[^"]*"|nonce-[^\']*/', '/data-token="[^"]*"/', '/value="[A-Za-z0-9._-]{40,}"/'], '',
            $said,
        );
        foreach ($this->codes as $code) {
            $said = str_replace([$code, Codes::of('no '.$code)], 'CODE', $said);
        }

        return str_ireplace([self::CANARY, self::TWIN], 'WORD', $said);
    }

    private static function difference(string $one, string $other): string
    {
        $same = \strlen($one) - \strlen(ltrim($one ^ $other, "\0"));
        $at = strspn($one ^ $other, "\0");

        return 0 === $same && $at >= min(\strlen($one), \strlen($other))
            ? 'one is longer' : mb_scrub(substr($one, max(0, $at - 80), 200).' | '.substr($other, max(0, $at - 80), 200));
    }
}
