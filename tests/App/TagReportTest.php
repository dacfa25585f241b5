<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** The report of a tag, taken along in each form. */
final class TagReportTest extends AppTestCase
{
    private const TITLE = '=HYPERLINK("http://x.test")';
    private const SUMMARY = "<script>alert(1)</script> [click](javascript:alert(1))\n# No heading";

    private Actor $actor;
    private Viewer $keeper;

    protected function setUp(): void
    {
        parent::setUp();
        $this->person('Ilse Varga', Role::Keeper);
        $this->person('Nerys Quill', Role::Reader);
        $this->actor = new Actor('Ilse Varga');
        $this->keeper = Viewer::person('Ilse Varga', Role::Keeper);
        $dossiers = self::service(Dossiers::class);
        $open = $dossiers->make($this->actor, new DossierChange('Doors & seals', open: Opening::All));
        $own = $dossiers->make($this->actor, new DossierChange('Only Ilse', open: Opening::Private));
        $this->note(self::TITLE, ['seal', 'a "tag"'], [$open->code]);
        $this->note('Private thought', ['seal'], [$own->code]);
        $this->note('Not of it', ['door'], [$open->code]);
    }

    public function testEachFormHasWhatIsSeenAndNothingInItRuns(): void
    {
        $this->signIn('Ilse Varga', Role::Keeper);
        $html = $this->get('/tags/seal/report.html');
        self::assertSame('attachment; filename=seal.html', $this->header('Content-Disposition'));
        self::assertStringContainsString('&lt;script&gt;alert(1)', $html);
        self::assertStringNotContainsString('<script', $html);
        self::assertStringContainsString('Doors &amp; seals', $html);
        self::assertStringContainsString('Private thought', $html);
        self::assertStringNotContainsString('Not of it', $html);
        $markdown = $this->get('/tags/seal/report.md');
        self::assertStringContainsString("\n## Doors &amp; seals\n", $markdown);
        self::assertStringContainsString(
            '   - &lt;script&gt;alert\(1\)&lt;/script&gt; \[click\]\(javascript:alert\(1\)\) \# No heading'."\n", $markdown,
        );
        self::assertStringNotContainsString('<script', $markdown);
        $rows = array_map(static fn (string $line): array => str_getcsv($line, ',', '"', ''), explode("\r\n", trim(
            str_replace(self::SUMMARY, 'said', $this->get('/tags/seal/report.csv')),
        )));
        self::assertSame(['dossier', 'title', 'kind', 'summary', 'tags'], \array_slice($rows[0], 0, 5));
        self::assertCount(3, $rows);
        $first = array_combine(array_map(strval(...), $rows[0]), $rows[1]);
        self::assertSame(['Doors & seals', "'".self::TITLE, 'a "tag"/seal'], [$first['dossier'], $first['title'], $first['tags']]);
        self::assertMatchesRegularExpression('~^https?://[^/]+/items/[2-9a-z]{12}$~', (string) $first['item']);
        $this->get('/tags/no%20such/report.csv');
        self::assertSame(404, $this->answered());
        $this->get('/tags/seal/report.exe');
        self::assertSame(404, $this->answered());
    }

    public function testWhatSomebodyMayNotSeeIsNotInTheirs(): void
    {
        $this->signIn('Nerys Quill', Role::Reader);
        foreach (['html', 'md', 'csv'] as $form) {
            $report = $this->get('/tags/seal/report.'.$form);
            self::assertStringContainsString('Doors', $report);
            self::assertStringNotContainsString('Private', $report);
            self::assertStringNotContainsString('Only Ilse', $report);
        }
    }

    public function testItIsPrintedByAWorkerForWhoeverAskedForIt(): void
    {
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->client->request('POST', '/tags/seal/report.pdf', ['_token' => 'guessed']);
        self::assertSame([403, []], [$this->answered(), self::made(Parcel::class)]);
        $this->get('/tags/seal');
        $this->client->submitForm('PDF');
        self::assertSame(303, $this->answered());
        $parcels = self::made(Parcel::class);
        self::assertSame(['seal', 'Ilse Varga'], [$parcels[0]->title, $parcels[0]->person]);
        self::assertStringContainsString('seal', $this->get($this->header('Location')));
        $this->signIn('Nerys Quill', Role::Reader);
        $this->get('/export/'.$parcels[0]->code);
        self::assertSame(404, $this->answered());
    }

    /**
     * @param list<string> $tags
     * @param list<string> $dossiers
     */
    private function note(string $title, array $tags, array $dossiers): void
    {
        self::service(Items::class)->make($this->actor, $this->keeper, ItemKind::Note, new ItemSubject(), new ItemChange(
            $title, self::SUMMARY, tags: $tags, dossiers: $dossiers,
        ));
    }
}
