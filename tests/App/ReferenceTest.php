<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\NullLogger;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Console\Tester\CommandTester;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Archives\OtherArchives;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Liveness\HeldText;
use Ypomna\App\References\Console\ReferencesCommand;
use Ypomna\App\References\MatchReferencesHandler;
use Ypomna\App\References\Message\MatchReferences;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Tests\Support\Listening;
use Ypomna\Tests\Support\Office;
use Ypomna\Tests\Support\WarcBuilder;

/** All references of a document at once. */
final class ReferenceTest extends AppTestCase
{
    private const DRAFT = "It leaked.[^1] It was known.[^2]\n\n[^1]: Lantern, “water on the car deck”. <http://lantern.test/a> (accessed"
        ." 12 November 2024).\n[^2]: =cmd|calc!A1, <http://board.test/r>, accessed 3 May 2024. <script>alert(1)</script>\n";

    private ReferenceLists $lists;

    protected function setUp(): void
    {
        parent::setUp();
        $this->lists = self::service(ReferenceLists::class);
    }

    public function testFromTheDocumentToItsRepair(): void
    {
        $this->takeIn((new WarcBuilder())
            ->exchange(
                'http://lantern.test/a',
                '2024-10-01T10:00:00Z',
                '<title>Held</title><p>An old page about a ferry in port, with nothing of it.',
            )
            ->exchange(
                'http://lantern.test/a',
                '2024-11-11T10:00:00Z',
                '<title>Held</title><p>There was forty centimetres of water on the car deck that day.',
            )
            ->exchange(
                'http://lantern.test/a',
                '2025-03-01T10:00:00Z',
                '<title>Held</title><p>There was some water in places on that day, said nobody.',
            ));
        $path = $this->handIn('draft.md', self::DRAFT);
        $list = $this->lists->byCode(basename($path));
        self::assertNotNull($list);
        self::assertSame(2, $this->lists->counts($list)['open']);
        $this->match((int) $list->id);
        $this->judged('http://lantern.test/a', LiveReason::NotFound);
        $this->judged('http://board.test/r', LiveReason::Ok);

        $shown = $this->get($path);
        self::assertStringContainsString('2 references', $shown);
        self::assertStringContainsString('one day before its access', $shown);
        self::assertStringContainsString('in it, but no longer in the latest capture', $shown);
        self::assertStringContainsString('Capture the one that is there now', $shown);
        self::assertStringContainsString('&lt;script&gt;', $shown);
        self::assertStringNotContainsString('<script>alert', $shown);
        self::assertStringContainsString('It was known.', $shown);
        self::assertStringContainsString('board.test/r', $this->get($path.'?only=alive'));
        self::assertStringNotContainsString('lantern.test/a<', $this->body());

        // The table cannot become a formula.
        self::assertStringContainsString('"\'=cmd|calc!A1', $this->streamed($path.'/table.csv'));

        $permanent = 'http://'.self::HOST.'/c/'.$this->captureOf('http://lantern.test/a', '2024-11-11')->code;
        $token = $this->token($path.'/repair');
        self::assertSame(1, preg_match_all('/name="r\[\]" value="(\d+)" checked/', $this->body(), $m), 'what is alive is not offered');
        $this->client->request('POST', $path.'/repair', ['_token' => $token, 'r' => [$m[1][0], '999999', 'x']]);
        self::assertSame(303, $this->answered());
        self::assertStringContainsString('One reference is replaced.', $this->get($path.'/repair'));
        self::assertSame(
            str_replace(
                '<http://lantern.test/a>', '<'.$permanent.'> (archived 11 November 2024; original: <http://lantern.test/a>)', self::DRAFT,
            ),
            $this->file($path.'/repaired'),
        );
        self::assertStringContainsString('draft repaired.md', $this->header('Content-Disposition'));
        self::assertStringContainsString('"'.$permanent.'","2024-11-11","not-seen","not-found"', $this->streamed($path.'/alterations.csv'));
        self::assertSame(self::DRAFT, $this->file($path.'/document'));
        $this->client->request('POST', $path.'/repair', ['_token' => $token]);
        self::assertSame(422, $this->answered());
    }

    public function testKeepAllThatAreThere(): void
    {
        $path = $this->handIn('', "http://a.test/ http://b.test/ http://a.test/ http://c.test/ http://d.test/\n");
        $this->judged('http://a.test/', LiveReason::Ok);
        $this->judged('http://b.test/', LiveReason::Redirect);
        $this->judged('http://c.test/', LiveReason::NotFound);
        $this->client->request('POST', $path, ['_token' => $this->token($path), 'act' => 'keep']);
        self::assertStringContainsString('/lists/', $this->header('Location'));
        self::assertSame(
            ['http://a.test/', 'http://b.test/'],
            self::service(Connection::class)->fetchFirstColumn('SELECT url FROM capture_job ORDER BY id'),
        );
    }

    public function testCheckedAgainAndStopped(): void
    {
        $path = $this->handIn('', 'http://a.test/ http://b.test/');
        $list = $this->lists->byCode(basename($path));
        self::assertNotNull($list);
        $token = $this->token($path);
        $this->client->request('POST', $path, ['_token' => $token, 'act' => 'stop']);
        self::assertSame(0, $this->lists->counts($list)['open']);
        $this->judged('http://a.test/', LiveReason::Ok);
        $again = $this->lists->byCode(basename($this->handIn('', 'http://a.test/ http://c.test/')));
        self::assertNotNull($again);
        self::assertSame(1, $this->lists->counts($again)['open'], 'what was looked at just now is not asked twice');
        $this->client->request('POST', $path, ['_token' => $token, 'act' => 'ask']);
        self::assertSame(2, $this->lists->counts($list)['open'], 'unless somebody presses for it');
    }

    public function testRemovedAfterAQuestion(): void
    {
        $path = $this->handIn('x.md', '<http://a.test/>');
        $token = $this->token($path);
        $this->client->request('POST', $path, ['_token' => $token, 'act' => 'remove']);
        self::assertStringContainsString('Remove these references?', $this->body());
        $this->get($path);
        self::assertSame(200, $this->answered());
        $this->client->request('POST', $path, ['_token' => $token, 'act' => 'remove', 'sure' => '1']);
        $this->get($path);
        self::assertSame(404, $this->answered());
        self::assertSame(0, $this->one('SELECT COUNT(*) FROM reference'));
        self::assertSame(1, $this->one('SELECT COUNT(*) FROM live_address'), 'what was found out stays');
    }

    public function testWhatCannotBeReadIsToldWhy(): void
    {
        foreach ([
            ['x.docx', Office::zip(['a' => 'b']), 'no text'], ['x.docx', 'PK'."\3\4".'xx', 'damaged'], ['x.json', '[{"URL":', 'not JSON'],
            ['x.pdf', '%PDF-1.4 x', 'PDF file cannot be read'], ['x.txt', 'No address at all.', 'no web address'],
            ['x.bin', "\0\1\2", 'neither text nor'], ['', '', 'no web address'],
        ] as [$name, $bytes, $why]) {
            $this->submit($name, $bytes);
            self::assertSame(422, $this->answered(), $name.$why);
            self::assertStringContainsString($why, $this->body(), $name);
        }
        self::assertSame(0, $this->one('SELECT COUNT(*) FROM reference_list'));
        $this->client->request('POST', '/references', ['text' => 'http://a.test/']);
        self::assertSame(403, $this->answered());
    }

    public function testAPdfFile(): void
    {
        $lines = ['1 Lantern, http://lantern.test/a', '(accessed 12 November 2024).'];
        $text = 'BT /F1 12 Tf 72 700 Td '
            .implode(' 0 -14 Td ', array_map(static fn (string $line): string => '('.addcslashes($line, '()\\').') Tj', $lines)).' ET';
        $objects = [
            '<< /Type /Catalog /Pages 2 0 R >>',
            '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
            '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 612 792] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>',
            '<< /Length '.\strlen($text)." >>\nstream\n".$text."\nendstream",
            '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>',
        ];
        $pdf = "%PDF-1.4\n";
        $places = [];
        foreach ($objects as $n => $object) {
            $places[] = \strlen($pdf);
            $pdf .= (1 + $n)." 0 obj\n".$object."\nendobj\n";
        }
        $start = \strlen($pdf);
        $pdf .= "xref\n0 6\n0000000000 65535 f \n"
            .implode('', array_map(static fn (int $place): string => \sprintf("%010d 00000 n \n", $place), $places))
            ."trailer << /Size 6 /Root 1 0 R >>\nstartxref\n{$start}\n%%EOF\n";
        [$row] = $this->rows($this->handIn('draft.pdf', $pdf));
        self::assertSame(['http://lantern.test/a', '1', '2024-11-12'], [$row->url, $row->note, $row->accessed?->format('Y-m-d')]);
        self::assertStringNotContainsString('Repair the document', $this->body());
    }

    public function testCitations(): void
    {
        $this->takeIn((new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-11T10:00:00Z', '<title>Held & in port</title><p>x'));
        $path = $this->handIn('draft.md', self::DRAFT);
        $this->match($this->one('SELECT MAX(id) FROM reference_list'));
        $shown = $this->get($path.'/citations?style=chicago-note-bibliography');
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('Held &amp; in Port', $shown);
        self::assertStringContainsString('Archived 11 November 2024,', $shown);
        self::assertStringContainsString('/c/'.$this->captureOf('http://lantern.test/a')->code, $shown);
        self::assertStringNotContainsString('———', $shown);
        $this->get($path.'/citations?style=../../etc/passwd');
        self::assertSame(200, $this->answered(), 'an unknown style is the first one');
        $items = json_decode($this->get($path.'/citations?as=json'), true);
        self::assertIsArray($items);
        self::assertIsArray($items[0]);
        self::assertSame('http://lantern.test/a', $items[0]['URL']);
        self::assertStringContainsString('archive_location', $this->body());
    }

    public function testEmptyStates(): void
    {
        self::assertStringContainsString('Check the references of a document', $this->get('/references'));
        $path = $this->handIn('x.md', '<http://a.test/>');
        self::assertStringContainsString('No reference stands like that.', $this->get($path.'?only=vanished'));
        self::assertStringContainsString('No reference can be replaced', $this->get($path.'/repair'));
        $this->get($path.'/repaired');
        self::assertSame(200, $this->answered());
        $this->get('/references/222222222222');
        self::assertSame(404, $this->answered());
    }

    public function testOtherArchivesAreAskedForWhatIsNotHeld(): void
    {
        $other = new Listening($this->folder);
        $map = '<http://lantern.test/a>; rel="original", '
            .implode(
                ', ',
                array_map(
                    static fn (string $moment): string => '<http://mirror.example/held/'.substr($moment, 0, 10)
                        .'>; rel="memento"; datetime="'.HttpDate::write(new \DateTimeImmutable($moment)).'"',
                    ['2024-01-01 10:00', '2024-11-10 10:00', '2025-06-01 10:00'],
                ),
            );
        $other->answers('/map/http://lantern.test/a', $map, 200, 'application/link-format');
        $archives = new OtherArchives(
            self::service(EntityManagerInterface::class), $other->web(), self::service(ClockInterface::class), DataFolder::ofSettings(),
            self::service(EventDispatcherInterface::class),
        );
        $archives->add(new Actor('Tomas Okoye'), 'The Mirror', '', 'http://mirror.example/map/');
        $path = $this->handIn('draft.md', self::DRAFT);
        $list = $this->one('SELECT MAX(id) FROM reference_list');
        $this->match($list);
        self::assertStringContainsString('Ask other archives for the missing ones', $this->get($path));
        $this->client->request('POST', $path, ['_token' => $this->token($path), 'act' => 'elsewhere']);
        self::assertSame(303, $this->answered());

        $this->match($list, $archives);
        $shown = $this->get($path);
        self::assertStringContainsString('The Mirror', $shown);
        self::assertStringContainsString('10 Nov 2024', $shown, 'the one nearest to the day on which it was read');
        self::assertStringContainsString('not captured here or by the other archives', $shown);
        self::assertSame(['/map/http://lantern.test/a', '/map/http://board.test/r'], array_column($other->sent(), 'path'));
        self::assertSame(1, $this->one('SELECT COUNT(*) FROM reference_list WHERE matched_at IS NOT NULL'));
    }

    public function testProgressIsToldUntilThereIsNoMore(): void
    {
        $path = $this->handIn('', 'http://a.test/ http://b.test/');
        $shown = $this->get($path.'/progress');
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('0 of 2 references checked', $shown);
        self::assertStringContainsString('hx-trigger="every 2s"', $shown);
        $this->judged('http://a.test/', LiveReason::Ok);
        self::assertStringContainsString('1 of 2 references checked', $this->get($path.'/progress'));
        $this->judged('http://b.test/', LiveReason::Timeout);
        $this->match($this->one('SELECT MAX(id) FROM reference_list'));
        $shown = $this->get($path.'/progress');
        self::assertSame(286, $this->answered(), 'then nobody asks any more');
        self::assertStringNotContainsString('hx-trigger', $shown);
        $this->client->request('POST', $path, ['_token' => $this->token($path), 'act' => 'dance']);
        self::assertSame(404, $this->answered());
        $this->get('/references/'.str_repeat('z', 12));
        self::assertSame(404, $this->answered());
    }

    public function testTheCommandHandsInToo(): void
    {
        $command = new CommandTester(self::service(ReferencesCommand::class));
        self::assertSame(
            0,
            $command->execute([
                'file' => $this->folder->file(
                    'thesis.bib', '@misc{a, title={Tides}, url={http://a.test/1}, urldate={2024-11-02}} @misc{b, url={http://a.test/2}}',
                ),
            ]),
        );
        self::assertStringContainsString('2 references of thesis.bib', $command->getDisplay());
        self::assertStringContainsString('thesis.bib', $this->get('/references'));
        self::assertSame(2, $command->execute(['file' => $this->folder->path.'/none']));
        self::assertStringContainsString('cannot be read', $command->getDisplay());
        self::assertSame(2, $command->execute(['file' => $this->folder->file('empty.txt', 'Nothing.')]));
        self::assertStringContainsString('no web address', $command->getDisplay());
        self::assertSame(1, $this->one('SELECT COUNT(*) FROM reference_list'));
    }

    public function testCitationsAsText(): void
    {
        $path = $this->handIn('refs.ris', "TY  - ELEC\nTI  - Tide <b>tables</b>\nAU  - Fenn, Oda\nUR  - http://a.test/tides\nER  - \n");
        self::assertStringContainsString('http://a.test/tides', $this->get($path.'/citations?style=chicago-note-bibliography&as=text'));
        self::assertStringContainsString('text/plain', $this->header('Content-Type'));
        self::assertStringContainsString('refs citations.txt', $this->header('Content-Disposition'));
        self::assertStringNotContainsString('<b>', $this->body());
    }

    public function testDocumentsAreListedWithHowTheyStandAllTheWayBack(): void
    {
        for ($n = 1; $n <= NewestFirst::AT_ONCE + 2; ++$n) {
            $this->handIn("paper-{$n}.md", "Said in <http://lantern.test/p{$n}> and <http://lantern.test/both>.");
        }
        $this->judged('http://lantern.test/both', LiveReason::Gone);
        $this->judged('http://lantern.test/p32', LiveReason::Content);
        $shown = $this->get('/references');
        self::assertStringContainsString('paper-32.md', $shown);
        self::assertStringNotContainsString('paper-2.md', $shown);
        self::assertSame(30, substr_count($shown, '2 references'));
        self::assertSame(29, substr_count($shown, 'one of them waiting'));
        self::assertSame(30, substr_count($shown, 'not found'));
        self::assertSame(1, substr_count($shown, '◐ changed'));
        self::assertSame(1, preg_match('~href="(/references\?before=\d+)"~', $shown, $m));
        $earlier = $this->get($m[1]);
        self::assertStringContainsString('paper-2.md', $earlier);
        self::assertStringContainsString('paper-1.md', $earlier);
        self::assertStringNotContainsString('paper-3.md', $earlier);
        self::assertStringContainsString('Back to the newest', $earlier);
        self::assertStringNotContainsString('Earlier ones', $earlier);
        self::assertStringContainsString('A value in it is not what belongs there', $this->get('/references?before=x'));
        self::assertSame(400, $this->answered());
    }

    private function handIn(string $name, string $bytes): string
    {
        $this->submit($name, $bytes);
        self::assertSame(303, $this->answered(), mb_strimwidth(strip_tags($this->body()), 0, 2_000));
        $path = (string) parse_url($this->header('Location'), \PHP_URL_PATH);
        $this->get($path);

        return $path;
    }

    private function submit(string $name, string $bytes): void
    {
        $token = $this->token('/references');
        $files = '' === $name
            ? []
            : ['file' => new UploadedFile($this->folder->file('in-'.bin2hex(random_bytes(3)), $bytes), $name, null, null, true)];
        $this->client->request('POST', '/references', ['_token' => $token, 'text' => '' === $name ? $bytes : ''], $files);
    }

    private function judged(string $url, LiveReason $reason): void
    {
        $parsed = Url::parse($url);
        $ids = self::service(CheckQueue::class)->ids(Viewer::system(), [$parsed]);
        self::service(CheckRepository::class)->enter(
            array_values($ids)[0], new CheckResult($parsed, $parsed, [], 200), new Assessment($reason, ['So it was.'], 0.9), null,
        );
    }

    private function match(int $list, ?OtherArchives $elsewhere = null): void
    {
        $handler = null === $elsewhere
            ? self::service(MatchReferencesHandler::class)
            : new MatchReferencesHandler(
                self::service(Connection::class), self::service(EntityManagerInterface::class), self::service(HeldText::class),
                self::service(CaptureContent::class), $elsewhere, self::service(MessageBusInterface::class),
                self::service(ClockInterface::class), new NullLogger(),
            );
        foreach (null === $elsewhere ? [0, 1, 2] : [0, 2] as $after) {
            $handler(new MatchReferences($list, $after, null !== $elsewhere));
        }
    }

    /** @return list<ReferenceRow> */
    private function rows(string $path): array
    {
        $list = $this->lists->byCode(basename($path));
        self::assertNotNull($list);

        return $this->lists->rows(Viewer::system(), $list);
    }

    private function token(string $path): string
    {
        self::assertSame(1, preg_match('/name="_token" value="([^"]+)"/', $this->get($path), $m));

        return $m[1];
    }

    private function streamed(string $path): string
    {
        $this->client->request('GET', $path);

        return $this->client->getInternalResponse()->getContent();
    }

    private function file(string $path): string
    {
        ob_start();
        $this->client->request('GET', $path);
        ob_end_clean();

        return $this->client->getInternalResponse()->getContent();
    }

    private function one(string $sql): int
    {
        $value = self::service(Connection::class)->fetchOne($sql);

        return is_numeric($value) ? (int) $value : -1;
    }
}
