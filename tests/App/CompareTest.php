<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Compare\LifelineRepository;
use Ypomna\App\Compare\Message\DrawLifelines;
use Ypomna\Tests\Support\Edited\Chance;
use Ypomna\Tests\Support\Edited\Sentences;
use Ypomna\Tests\Support\WarcBuilder;

final class CompareTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testTheEarlierOneIsTheOldOneWhicheverIsNamedFirst(): void
    {
        [$old, $new] = $this->two(
            '<title>Notice</title><p>The crew measured 40 centimetres of water. Nobody was hurt.<p><a href="/log">log</a>',
            '<title>Notice</title><p>The crew measured 14 centimetres of water. Nobody was hurt.<p><a href="/minutes">log</a>',
        );
        $body = $this->get("/compare/{$new}/{$old}");
        self::assertStringContainsString('<del>40</del>', $body);
        self::assertStringContainsString('<ins>14</ins>', $body);
        self::assertStringContainsString('leads elsewhere', $body);
        self::assertStringContainsString('1 passage differs; 1 link', $body);
    }

    public function testAPictureWithOtherBytesAtTheSameAddressIsNoticed(): void
    {
        foreach (['2024-01-01' => 'one', '2024-02-01' => 'two'] as $day => $bytes) {
            $this->takeIn(
                (new WarcBuilder($day))->exchange(
                    self::PAGE, $day.'T00:00:00Z', '<p>same<img src="/x.png" alt="ship">',
                )->exchange('http://lantern.test/x.png', $day.'T00:00:01Z', $bytes, 'image/png'),
                $day.'.warc.gz',
            );
        }
        $body = $this->get(
            '/compare/'.$this->captureOf(self::PAGE, '2024-01-01')->code.'/'.$this->captureOf(self::PAGE, '2024-02-01')->code,
        );
        self::assertStringContainsString('same address, other bytes', $body);
    }

    public function testTheSamePageTwiceHasNoDifference(): void
    {
        [$old, $new] = $this->two('<p>same', '<p>same');
        self::assertStringContainsString('A reader would see no difference', $this->get("/compare/{$old}/{$new}"));
    }

    public function testWhatBothPagesSayStaysText(): void
    {
        [$old, $new] = $this->two('<p>&lt;script&gt;alert(1)&lt;/script&gt; was here', '<p>&lt;script&gt;alert(2)&lt;/script&gt; was here');
        self::assertStringNotContainsString('<script>alert', $this->get("/compare/{$old}/{$new}"));
    }

    public function testLongStretchesThatStayedAreFolded(): void
    {
        $same = implode('', array_map(static fn (int $n): string => "<p>Passage number {$n} stays as it is.</p>", range(1, 30)));
        [$old, $new] = $this->two($same.'<p>The end is near.', $same.'<p>The end is here.');
        $body = $this->get("/compare/{$old}/{$new}/text");
        self::assertStringContainsString('28 passages that stayed the same', $body);
        self::assertStringContainsString('Passage number 3 stays', $body);
    }

    public function testAFileThatIsGoneIsNamedAsTheReason(): void
    {
        [$old, $new] = $this->two('<p>one', '<p>two');
        unlink(\Ypomna\App\Shared\Settings::dataFolder().'/store/'.$this->captureOf(self::PAGE, '2024-01-01')->warcFile->path);
        self::assertStringContainsString('cannot be read from its file', $this->get("/compare/{$old}/{$new}"));
        self::assertSame(409, $this->answered());
    }

    public function testItTakesExactlyTwo(): void
    {
        [$old] = $this->two('<p>one', '<p>two');
        $this->get('/compare?c[]='.$old);
        self::assertSame(422, $this->answered());
        $this->get('/compare?c[]='.$old.'&c[]=%27%22&c[][x]=1');
        self::assertSame(422, $this->answered());
    }

    public function testEveryViewOfTheComparisonStands(): void
    {
        [$old, $new] = $this->two(
            '<title>Notice</title><p>The crew measured 40 centimetres of water.<p hidden>Secret words.<script src=/a.js></script>',
            '<title>Warning</title><p>The crew measured 14 centimetres of water.<p>Secret words.',
        );
        $body = $this->get("/compare/{$old}/{$new}");
        foreach ([
            'id="comparison"', 'a number', 'became visible', 'Title and description', 'http://lantern.test/a.js',
            '"words":[["The crew measured ",false],["40",true]',
        ] as $part) {
            self::assertStringContainsString($part, $body);
        }
        self::assertSame(2, substr_count($body, '<iframe'));
        foreach ([
            'sides' => 'Side by side', 'unified' => 'class="run p-sentence changed"', 'changes' => 'What matters',
            'nonsense' => 'Side by side',
        ] as $as => $part) {
            self::assertStringContainsString($part, $this->get("/compare/{$old}/{$new}/text?as={$as}"));
        }
        self::assertStringContainsString('has no picture of its page', $this->get("/compare/{$old}/{$new}/look"));
        $source = $this->get("/compare/{$old}/{$new}/source");
        self::assertStringContainsString('− The crew measured 40', html_entity_decode($source));
        self::assertStringContainsString('&lt;script src=/a.js&gt;', $source);
    }

    public function testAReportHasWhatIsNeededToMakeItAgain(): void
    {
        [$old, $new] = $this->two('<p>The leak had been reported.', '<p>The leak had not been reported.');
        $capture = $this->captureOf(self::PAGE, '2024-01-01');
        $html = $this->get("/compare/{$new}/{$old}/report.html");
        foreach ([
            $capture->warcFile->sha256,
            (string) $capture->payloadSha256,
            "http://localhost:8020/c/{$old}",
            'a negation',
            'bin/ypomna compare',
            basename($capture->warcFile->path).'#http://lantern.test/a@2024-01-01T00:00:00Z',
        ] as $part) {
            self::assertStringContainsString($part, $html);
        }
        self::assertMatchesRegularExpression(
            "/style-src 'self' 'sha256-[A-Za-z0-9+\\/=]{44}'/",
            (string) $this->client->getResponse()->headers->get('Content-Security-Policy'),
        );
        $text = $this->get("/compare/{$old}/{$new}/report.txt");
        self::assertStringContainsString("   was: The leak had been reported.\n   is: The leak had not been reported.", $text);
        /**
         * @var array{
         *     old: array{fileSha256: string}, comparison: array{text: array{changes: list<array{op: string, telling: list<string>}>}},
         * } $data
         */
        $data = json_decode($this->get("/compare/{$old}/{$new}/report.json"), true, 512, \JSON_THROW_ON_ERROR);
        self::assertSame($capture->warcFile->sha256, $data['old']['fileSha256']);
        self::assertSame(
            [['changed', ['negation']]],
            array_map(static fn (array $c): array => [$c['op'], $c['telling']], $data['comparison']['text']['changes']),
        );
    }

    public function testTheCommandInAReportDoesWhatItSaysAndNoMore(): void
    {
        $url = "http://lantern.test/it's/'\$(touch owned)'`id`;x?a=\"b\"&c=\\";
        foreach (['2024-01-01' => '<p>one', '2024-02-01' => '<p>two'] as $day => $html) {
            $this->takeIn((new WarcBuilder('q'.$day))->exchange($url, $day.'T00:00:00Z', $html), 'q'.$day.'.warc.gz');
        }
        [$old, $new] = [$this->captureOf($url, '2024-01-01')->code, $this->captureOf($url, '2024-02-01')->code];
        foreach (['txt', 'html'] as $form) {
            $text = $this->get("/compare/{$old}/{$new}/report.{$form}");
            self::assertSame(
                1, preg_match('/bin\/ypomna compare .*/', 'html' === $form ? html_entity_decode(strip_tags($text)) : $text, $m),
            );
            // What a shell makes of it: two files with addresses, and nothing else.
            exec('set -- '.substr($m[0], \strlen('bin/ypomna compare ')).' && for word; do printf "%s\n" "$word"; done', $words, $status);
            self::assertSame([0, 3, '--json'], [$status, \count($words), array_pop($words)], $m[0]);
            foreach ($words as $word) {
                self::assertMatchesRegularExpression(
                    '~^[\w/.-]+\.warc\.gz#http://lantern\.test/it\'s/\'\$\(touch%20owned\)\''
                    .'%60id%60;x\?a=%22b%22&c=(?:\\\\|%5C)@2024-0[12]-01T00:00:00Z$~',
                    $word,
                );
            }
            $words = [];
        }
        self::assertFileDoesNotExist('owned');
    }

    public function testARuleAboutNoiseHoldsWhereItWasSetAndCanBeEndedAndPutBack(): void
    {
        [$old, $new] = $this->two(
            '<p>It stays.<p id=wind>Wind over the quay is 3 knots today', '<p>It stays.<p id=wind>Wind over the quay is 9 knots today',
        );
        $address = $this->captureOf(self::PAGE)->address;
        self::assertStringContainsString('What matters', $this->get("/compare/{$old}/{$new}"));
        $token = $this->client->getCrawler()->filter('#pass-over [name=_token]')->attr('value');
        $this->client->request('POST', "/address/{$address->code}/noise", ['_token' => 'x', 'selector' => '#wind']);
        self::assertSame(403, $this->answered());
        $this->client->request('POST', "/address/{$address->code}/noise", ['_token' => $token, 'selector' => 'a[href]']);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString(
            'cannot be used in a selector', html_entity_decode((string) $this->client->getResponse()->getContent()),
        );
        $this->client->request(
            'POST',
            "/address/{$address->code}/noise",
            ['_token' => $token, 'selector' => 'p#wind', 'scope' => 'host', 'note' => 'weather', 'pair' => "{$old}/{$new}"],
        );
        self::assertSame("/compare/{$old}/{$new}", $this->client->getResponse()->headers->get('Location'));
        $body = $this->get("/compare/{$old}/{$new}");
        self::assertStringContainsString('1 change is noise', $body);
        self::assertStringNotContainsString('What matters', $body);
        self::assertStringContainsString('p#wind', $this->get("/address/{$address->code}/noise"));
        self::assertStringContainsString('"selector": "p#wind"', $this->get("/address/{$address->code}/noise.json"));
        // On another page of the host, too; on another host not.
        $this->takeIn((new WarcBuilder('h'))->exchange('http://lantern.test/b/c?d', '2024-01-01T00:00:00Z', '<p>x'), 'h.warc.gz');
        $this->takeIn((new WarcBuilder('i'))->exchange('http://other.test/b', '2024-01-01T00:00:00Z', '<p>x'), 'i.warc.gz');
        self::assertStringContainsString(
            'p#wind', $this->get('/address/'.$this->captureOf('http://lantern.test/b/c?d')->address->code.'/noise'),
        );
        self::assertStringNotContainsString(
            'p#wind', $this->get('/address/'.$this->captureOf('http://other.test/b')->address->code.'/noise'),
        );
        $this->get("/address/{$address->code}/noise");
        $this->client->submitForm('End this rule');
        self::assertStringContainsString('What matters', $this->get("/compare/{$old}/{$new}"));
        $this->get("/address/{$address->code}/noise");
        $this->client->submitForm('Restore this rule');
        self::assertStringNotContainsString('What matters', $this->get("/compare/{$old}/{$new}"));
    }

    public function testTheThicknessOfALayerLeavesNoiseOut(): void
    {
        $this->two('<p>It stays as it is.<p>Views: 1', '<p>It stays as it is.<p>Views: 2');
        self::assertSame(0.0, $this->captureOf(self::PAGE, '2024-02-01')->changed);
    }

    public function testLifelinesAreDrawnAndGrow(): void
    {
        $this->two('<p>The crew measured 40 centimetres of water. Nobody was hurt.', '<p>The crew measured 14 centimetres of water.');
        $address = $this->captureOf(self::PAGE)->address->code;
        $body = $this->get("/address/{$address}/lifelines");
        self::assertStringContainsString('2 passages of 2,', $body);
        self::assertStringContainsString('2 wordings', $body);
        self::assertStringContainsString('Nobody was hurt.', $body);
        self::assertStringNotContainsString('centimetres', $this->get("/address/{$address}/lifelines?word=hurt&show=all&order=time"));
        self::assertStringContainsString('40 centimetres', $this->get("/address/{$address}/lifelines?day=2024-01-15&show=all"));
        $new = $this->get("/address/{$address}/lifelines?show=new&day=2024-02-10");
        self::assertStringContainsString('14 centimetres', $new);
        self::assertStringContainsString('1 passage of 2,', $new);
        self::assertStringContainsString('No passage fits', $this->get("/address/{$address}/lifelines?word=nowhere"));
        $line = $this->get("/address/{$address}/lifelines/0");
        self::assertStringContainsString('<del>40</del><ins>14</ins>', $line);
        $this->takeIn(
            (new WarcBuilder('c'))->exchange(
                self::PAGE, '2024-03-01T00:00:00Z', '<p>The crew measured 14 centimetres of water. Refunds are paid at the office.',
            ),
            'c.warc.gz',
        );
        self::assertStringContainsString('3 passages of 3,', $this->get("/address/{$address}/lifelines"));
        // One that comes in between has them drawn anew.
        $this->takeIn(
            (new WarcBuilder('b'))->exchange(
                self::PAGE, '2024-01-15T00:00:00Z', '<p>The crew measured 20 centimetres of water. Nobody was hurt.',
            ),
            'b.warc.gz',
        );
        self::assertStringContainsString('3 wordings', $this->get("/address/{$address}/lifelines"));
        $this->get("/address/{$address}/lifelines/99");
        self::assertSame(404, $this->answered());
    }

    public function testManyCapturesAreLeftToAWorker(): void
    {
        $warc = new WarcBuilder('m');
        for ($n = 10; $n < 30; ++$n) {
            $warc = $warc->exchange(self::PAGE, "2024-01-{$n}T00:00:00Z", "<p>Capture number {$n} of this page.");
        }
        $this->takeIn($warc);
        $address = $this->captureOf(self::PAGE)->address;
        self::assertStringContainsString('0 of 20 captures', $this->get("/address/{$address->code}/lifelines"));
        self::service(LifelineRepository::class)->drawLifelines(new DrawLifelines((int) $address->id));
        self::assertStringContainsString('20 wordings', $this->get("/address/{$address->code}/lifelines"));
    }

    public function testWhereThereWasNeverAPageThereIsNothingToDraw(): void
    {
        $this->takeIn((new WarcBuilder('n'))->exchange(self::PAGE, '2024-01-01T00:00:00Z', 'x', status: 404, destination: 'document'));
        self::assertStringContainsString(
            'There is nothing to draw', $this->get('/address/'.$this->captureOf(self::PAGE)->address->code.'/lifelines'),
        );
        self::assertNull($this->client->getResponse()->headers->get('Refresh'));
    }

    public function testWhatIsNewSinceTheLastLook(): void
    {
        [$old, $new] = $this->two('<p>one', '<p>two');
        $address = $this->captureOf(self::PAGE)->address->code;
        self::assertStringContainsString('have not read', $this->get("/address/{$address}/since"));
        $this->get("/c/{$old}");
        $this->client->request('GET', "/address/{$address}/since");
        self::assertSame("/compare/{$old}/{$new}", $this->client->getResponse()->headers->get('Location'));
        $this->get("/c/{$new}");
        // An older one that is read afterwards takes nothing back.
        $this->get("/c/{$old}");
        self::assertStringContainsString('No capture since you last read', $this->get("/address/{$address}/since"));
    }

    public function testTheSameTextIsFoundElsewhereAndComparedWithAnything(): void
    {
        $sentences = new Sentences(new Chance(3), 'en');
        $text = array_map(static fn (): string => $sentences->one(), range(1, 40));
        $this->takeIn((new WarcBuilder('a'))->exchange(self::PAGE, '2024-01-01T00:00:00Z', '<p>'.implode(' ', $text)), 'a.warc.gz');
        $this->takeIn(
            (new WarcBuilder('b'))->exchange(
                'http://moved.test/new', '2024-02-01T00:00:00Z', '<h1>Copied</h1><p>'.implode(' ', \array_slice($text, 2)),
            ),
            'b.warc.gz',
        );
        $this->takeIn(
            (new WarcBuilder('c'))->exchange(
                'http://other.test/x',
                '2024-02-01T00:00:00Z',
                '<p>'.implode(' ', array_map(static fn (): string => $sentences->one(), range(1, 40))),
            ),
            'c.warc.gz',
        );
        $code = $this->captureOf(self::PAGE)->code;
        $copy = $this->captureOf('http://moved.test/new')->code;
        $body = $this->get("/c/{$code}/similar");
        self::assertStringContainsString('moved.test/new', $body);
        self::assertStringNotContainsString('other.test/x', $body);
        $body = $this->get("/c/{$code}/similar?with={$copy}");
        self::assertStringContainsString('38 passages stand in both.', $body);
        self::assertStringContainsString('The first was captured earlier', $body);
        foreach (["http://localhost:8020/c/{$copy}", 'moved.test/new', $copy.'x'] as $typed) {
            $this->client->request('GET', '/compare/any?'.http_build_query(['one' => $code, 'other' => $typed]));
            self::assertSame(
                $typed === $copy.'x' ? null : "/compare/{$code}/{$copy}", $this->client->getResponse()->headers->get('Location'),
            );
        }
        self::assertSame(422, $this->answered());
    }

    public function testASiteThatMovedIsMatchedPageByPage(): void
    {
        $sentences = new Sentences(new Chance(8), 'en');
        $warc = new WarcBuilder('m');
        foreach (['a', 'b'] as $name) {
            $text = '<p>'.implode(' ', array_map(static fn (): string => $sentences->one(), range(1, 30)));
            $warc = $warc->exchange("http://old.test/{$name}", '2024-01-01T00:00:00Z', $text)->exchange(
                "http://new.test/pages/{$name}", '2024-06-01T00:00:00Z', '<nav>Home</nav>'.$text,
            );
        }
        $this->takeIn($warc->exchange(
            'http://old.test/gone',
            '2024-01-01T00:00:00Z',
            '<p>'.implode(' ', array_map(static fn (): string => $sentences->one(), range(1, 30))),
        ));
        $this->client->request('GET', '/hosts/matched?one=old.test&other=http://new.test/');
        $rows = $this->client->getCrawler()->filter('tbody tr')
            ->each(static fn ($row): string => (string) preg_replace('/\s+/', ' ', trim($row->text())));
        self::assertCount(3, $rows);
        self::assertStringStartsWith('old.test/a new.test/pages/a', $rows[0]);
        self::assertStringStartsWith('old.test/b new.test/pages/b', $rows[1]);
        self::assertStringStartsWith('old.test/gone none held', $rows[2]);
        $this->get('/hosts/matched?one=%20&other=nonsense');
        self::assertSame(422, $this->answered());
    }

    public function testALinkWhoseTargetDiedMeanwhileIsTold(): void
    {
        $page = '<p>See the <a href="/log">log</a> and the <a href="/map">map</a>.';
        foreach (['2024-01-01' => 200, '2024-02-01' => 404] as $day => $status) {
            $this->takeIn(
                (new WarcBuilder($day))->exchange(self::PAGE, $day.'T02:00:00Z', $page)->exchange(
                    'http://lantern.test/log', $day.'T01:00:00Z', '<p>log', status: $status, destination: 'document',
                )->exchange('http://lantern.test/map', $day.'T01:00:00Z', '<p>map', destination: 'document'),
                $day.'.warc.gz',
            );
        }
        $body = $this->get(
            '/compare/'.$this->captureOf(self::PAGE, '2024-01-01')->code.'/'.$this->captureOf(self::PAGE, '2024-02-01')->code,
        );
        self::assertStringContainsString('Links that were dead by then', $body);
        self::assertStringContainsString('http://lantern.test/log', $body);
        self::assertStringNotContainsString('http://lantern.test/map</bdi>', $body);
    }

    public function testPrintedDocumentsAreComparedPageByPage(): void
    {
        foreach (['2024-01-01' => 'The door held.', '2024-02-01' => 'The door leaked.'] as $day => $words) {
            $this->takeIn(
                (new WarcBuilder($day))->exchange(
                    'http://board.test/r.pdf', $day.'T00:00:00Z', self::pdf('Report of the board.', $words), 'application/pdf',
                ),
                $day.'.warc.gz',
            );
        }
        $body = $this->get(
            '/compare/'.$this->captureOf('http://board.test/r.pdf', '2024-01-01')->code.'/'
                .$this->captureOf('http://board.test/r.pdf', '2024-02-01')->code.'/text',
        );
        self::assertStringContainsString('1 passage differs', $body);
        self::assertStringContainsString('<del>held</del><ins>leaked</ins>', $body);
    }

    private static function pdf(string ...$pages): string
    {
        $objects = ['<</Type/Catalog/Pages 2 0 R>>', '', '<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>'];
        $kids = [];
        foreach ($pages as $words) {
            $stream = "BT /F1 12 Tf 72 720 Td ({$words}) Tj ET";
            $objects[] = '<</Length '.\strlen($stream).">>stream\n{$stream}\nendstream";
            $objects[] = '<</Type/Page/Parent 2 0 R/MediaBox[0 0 612 792]/Resources<</Font<</F1 3 0 R>>>>/Contents '.\count($objects)
                .' 0 R>>';
            $kids[] = \count($objects).' 0 R';
        }
        $objects[1] = '<</Type/Pages/Kids['.implode(' ', $kids).']/Count '.\count($kids).'>>';
        $pdf = "%PDF-1.4\n";
        $places = [];
        foreach ($objects as $n => $object) {
            $places[] = \strlen($pdf);
            $pdf .= ($n + 1)." 0 obj\n{$object}\nendobj\n";
        }
        $table = \strlen($pdf);
        $pdf .= 'xref'."\n0 ".(\count($objects) + 1)."\n0000000000 65535 f \n"
            .implode('', array_map(static fn (int $place): string => \sprintf("%010d 00000 n \n", $place), $places));

        return $pdf.'trailer<</Size '.(\count($objects) + 1)."/Root 1 0 R>>\nstartxref\n{$table}\n%%EOF\n";
    }

    public function testATableInAFileIsComparedCellByCell(): void
    {
        foreach ([
            '2024-01-01' => "Pier,Dep\nNorth,06:10\nSouth,07:00\n", '2024-02-01' => "Pier,Dep\nQuay,06:00\nNorth,06:10\nSouth,07:15\n",
        ] as $day => $csv) {
            $this->takeIn(
                (new WarcBuilder($day))->exchange('http://lantern.test/t.csv', $day.'T00:00:00Z', $csv, 'text/csv'), $day.'.warc.gz',
            );
        }
        $body = $this->get(
            '/compare/'.$this->captureOf('http://lantern.test/t.csv', '2024-01-01')->code.'/'
                .$this->captureOf('http://lantern.test/t.csv', '2024-02-01')->code.'/text',
        );
        self::assertStringContainsString('3 passages differ', $body);
        self::assertStringContainsString('<del>07:00</del><ins>07:15</ins>', $body);
    }

    /**
     * @return array{string, string} codes
     */
    private function two(string $old, string $new): array
    {
        foreach (['2024-01-01' => $old, '2024-02-01' => $new] as $day => $html) {
            $this->takeIn((new WarcBuilder($day))->exchange(self::PAGE, $day.'T00:00:00Z', $html), $day.'.warc.gz');
        }

        return [$this->captureOf(self::PAGE, '2024-01-01')->code, $this->captureOf(self::PAGE, '2024-02-01')->code];
    }
}
