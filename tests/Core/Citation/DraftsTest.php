<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Citation;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Citation\BibDraft;
use Ypomna\Core\Citation\CslDraft;
use Ypomna\Core\Citation\CsvDraft;
use Ypomna\Core\Citation\DocxDraft;
use Ypomna\Core\Citation\Draft;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\HtmlDraft;
use Ypomna\Core\Citation\MarkdownDraft;
use Ypomna\Core\Citation\OdtDraft;
use Ypomna\Core\Citation\PdfDraft;
use Ypomna\Core\Citation\PlainDraft;
use Ypomna\Core\Citation\Reference;
use Ypomna\Core\Citation\Repair;
use Ypomna\Core\Citation\Repairable;
use Ypomna\Core\Citation\RisDraft;
use Ypomna\Core\Citation\UnreadableDraft;
use Ypomna\Core\Citation\Wording;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Office;
use Ypomna\Tests\Support\ProcessorTime;

/** Addresses in documents, what is said of them, and the same documents led to the archive. */
final class DraftsTest extends TestCase
{
    private const KEPT = 'https://archive.example/c/k7abcd234567';

    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    /**
     * @param list<array{string, string|null, string|null}> $expected address, note, access date
     */
    #[DataProvider('texts')]
    public function testWhatIsFound(string $format, string $source, array $expected): void
    {
        self::assertSame(
            $expected,
            array_map(
                static fn (Reference $one): array => [(string) $one->url, $one->note, $one->accessed],
                DraftReferences::of(self::draft($format, $source))->all,
            ),
        );
    }

    /**
     * @return iterable<string, array{string, string, list<array{string, string|null, string|null}>}>
     */
    public static function texts(): iterable
    {
        $a = 'http://lantern.test/a';
        yield 'text: what ends a sentence' => [
            'text',
            "See {$a}. Or ({$a}), “{$a}”; www.lantern.test/b?x=(1)!",
            [[$a, null, null], [$a, null, null], [$a, null, null], ['http://www.lantern.test/b?x=(1)', null, null]],
        ];
        yield 'text: notes by number' => [
            'text',
            "It leaked.[2]\n\n1. Lantern, {$a} (accessed 3 November 2024).\n[2] Board, http://board.test/r, abgerufen am 4. März 2025\n",
            [[$a, '1', '2024-11-03'], ['http://board.test/r', '2', '2025-03-04']],
        ];
        yield 'text: each its own date' => [
            'text',
            "{$a} (accessed 2024-11-03), http://b.test/ (accessed 2024-12-05)",
            [[$a, null, '2024-11-03'], ['http://b.test/', null, '2024-12-05']],
        ];
        yield 'text: the date before' => ['text', "Retrieved 5 May 2024 from {$a}", [[$a, null, '2024-05-05']]];
        yield 'text: Japanese' => ['text', "海峡シール「製品」{$a}（2024年12月14日閲覧）。", [[$a, null, '2024-12-14']]];
        yield 'text: Greek' => ['text', "Λιμενικό, {$a} (πρόσβαση 12 Νοεμβρίου 2024)", [[$a, null, '2024-11-12']]];
        yield 'text: a date in brackets' => ['text', "{$a} [12.11.2024]", [[$a, null, '2024-11-12']]];
        yield 'text: not every date is one' => ['text', "The report of 3 May 2021 at {$a} says so.", [[$a, null, null]]];
        yield 'text: no addresses' => ['text', 'mail@lantern.test, lantern.test, ftp://lantern.test/x, http:// and https://?', []];
        yield 'markdown: kinds of links' => [
            'markdown',
            "[a](<{$a}> \"t\"), [b *c*](http://b.test/x_(y)), <http://c.test/>, [d][r] http://e.test/_f_.\n\n[r]: http://d.test/ 'x'",
            [
                [$a, null, null],
                ['http://b.test/x_(y)', null, null],
                ['http://c.test/', null, null],
                ['http://e.test/_f', null, null],
                ['http://d.test/', null, null],
            ],
        ];
        yield 'markdown: notes in the order of the text' => [
            'markdown',
            "Two.[^b] One.[^x]\n\n[^x]: See <{$a}> (accessed 3 Nov 2024).\n[^b]: http://b.test/, accessed\n    4 November 2024.\n",
            [[$a, '2', '2024-11-03'], ['http://b.test/', '1', '2024-11-04']],
        ];
        yield 'markdown: back-ticks in destinations' => [
            'markdown',
            '[a](http://b.test/x`y`z) and [c](<http://d.test/`e` f>) and <http://g.test/`h>`.',
            [['http://b.test/x%60y%60z', null, null], ['http://d.test/%60e%60%20f', null, null], ['http://g.test/%60h', null, null]],
        ];
        yield 'markdown: code takes in what begins in it' => [
            'markdown',
            "[no `link](http://b.test/)` and \\`[yes](http://c.test/)\\` and `two\nlines http://d.test/` {$a}",
            [['http://c.test/', null, null], [$a, null, null]],
        ];
        yield 'markdown: backslashes in destinations' => [
            'markdown',
            '[a](http://b.test/x\\)y\\_z\\q) [c](<http://d.test/e\\>f>) <http://g.test/h\\_i> [j](http://k.test/(l(m)n))'
                .' [o](http://p.test/?q&amp;r)',
            [
                ['http://b.test/x)y_z%5Cq', null, null],
                ['http://d.test/e%3Ef', null, null],
                ['http://g.test/h%5C_i', null, null],
                ['http://k.test/(l(m)n)', null, null],
                ['http://p.test/?q&r', null, null],
            ],
        ];
        yield 'markdown: code is none' => [
            'markdown', "---\nurl: http://y.test/\n---\n\n`http://x.test/` and\n\n```\nhttp://z.test/\n```\n\n{$a}", [[$a, null, null]],
        ];
        yield 'html' => [
            'html',
            '<base href="http://l.test/"><p>See <a class=x href=\'http://lantern.test/a?x=1&amp;y=2\'>it</a><sup><a'
                .' href="#n1">1</a></sup> <a href="/rel">rel</a> <a href="mailto:x">m</a> http://b.test/x&amp;y<!-- http://no.test/'
                    .' --><script>"http://no.test/"</script><ol><li id=n1>N. <a href="//c.test/">c</a> (accessed 3 November 2024) <a'
                        .' href="#r1">↩</a></ol>',
            [['http://lantern.test/a?x=1&y=2', null, null], ['http://b.test/x&y', null, null], ['http://c.test/', '1', '2024-11-03']],
        ];
        yield 'bibtex' => [
            'bibtex',
            "@comment{x}\n@online{petrel, title = {Held in {Port}}, url = {http://lantern.test/a\\_b},"
                ." urldate={2024-11-03}}\n@misc{old,\n howpublished = \"\\url{http://b.test/}\", note={Accessed: 4 March 2025},"
                    .' lastchecked = {4 March 2025} }',
            [['http://lantern.test/a_b', 'petrel', '2024-11-03'], ['http://b.test/', 'old', '2025-03-04']],
        ];
        yield 'ris' => [
            'ris',
            "TY  - ELEC\r\nTI  - Held\r\nUR  - {$a}\r\nY2  - 2024/11/03/\r\nER  - \r\nTY  - ELEC\r\nID  - k\r\nUR  - http://b.test/\r\n"
                ."ER  -\r\n",
            [[$a, '1', '2024-11-03'], ['http://b.test/', 'k', null]],
        ];
        yield 'csl' => [
            'csl-json',
            '[{"id":"p","title":"Held","URL":"http:\/\/lantern.test\/a","accessed":{"date-parts":[[2024,11,3]]},'
                .'"x":{"URL":"http://no.test/"}},{"id":7},{"id":"q","URL":"http://b.test/","accessed":{"raw":"4 March 2025"}}]',
            [[$a, 'p', '2024-11-03'], ['http://b.test/', 'q', '2025-03-04']],
        ];
        yield 'csl in an object' => [
            'csl-json', '{"a":{"URL":"http://no.test/"},"items":[{"id":"p","URL":"http://b.test/"}]}', [['http://b.test/', 'p', null]],
        ];
        yield 'csv' => [
            'csv',
            "title;link;accessed\n\"a; b\";{$a};03.11.2024\nc;\"see http://b.test/, http://c.test/\";\n",
            [[$a, '2', '2024-11-03'], ['http://b.test/', '3', null], ['http://c.test/', '3', null]],
        ];
        yield 'pdf' => [
            'pdf',
            '<?xml version="1.0"?><!DOCTYPE pdf2xml SYSTEM "pdf2xml.dtd"><pdf2xml><page number="1"><text top="10" left="0" width="9"'
                .' height="10" font="0">It leaked.</text><text top="80" left="0" width="9" height="10">1 Lantern, <a'
                    .' href="http://lantern.test/a/b">http://lantern.test/</a></text><text top="92" left="0" width="9" height="10"><a'
                        .' href="http://lantern.test/a/b">a/b</a> (accessed 3 November</text><text top="104" left="0" width="9"'
                            .' height="10">2024).</text><text top="116" left="0" width="9" height="10">2 Board,'
                                .' http://b.test/reports/</text><text top="128" left="0" width="9" height="10">2024-17.html (accessed'
                                    .' 2025-03-04).</text></page></pdf2xml>',
            [['http://lantern.test/a/b', '1', '2024-11-03'], ['http://b.test/reports/2024-17.html', '2', '2025-03-04']],
        ];
    }

    /**
     * @param string $expected what stands there then; %s is the permanent address
     */
    #[DataProvider('repairs')]
    public function testWhatIsGivenBack(string $format, string $source, string $expected): void
    {
        $draft = self::draft($format, $source);
        self::assertInstanceOf(Repairable::class, $draft);
        self::assertSame(str_replace('%s', self::KEPT, $expected), $this->repaired($draft));
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function repairs(): iterable
    {
        $a = 'http://lantern.test/a';
        yield 'text' => ['text', "x {$a}, y\r\n", "x %s (archived 3 May 2024; original: {$a}), y\r\n"];
        yield 'markdown link' => ['markdown', "[it]({$a} \"t\").", "[it](%s \"t\") (archived 3 May 2024; original: <{$a}>)."];
        yield 'markdown autolink' => ['markdown', "<{$a}>, *x*", "<%s> (archived 3 May 2024; original: <{$a}>), *x*"];
        yield 'markdown definition' => [
            'markdown',
            "[x][1]\n\n[1]: {$a}\n[2]: <{$a}> 'T'\n",
            "[x][1]\n\n[1]: %s \"archived 3 May 2024; original: {$a}\"\n[2]: <%s> 'T'\n",
        ];
        yield 'markdown bare' => ['markdown', "*{$a}*\n", "*<%s> (archived 3 May 2024; original: <{$a}>)*\n"];
        yield 'html link' => [
            'html',
            "<P>é <A HREF={$a} id=1>it</A>, &nbsp;y",
            '<P>é <A HREF="%s" id=1>it</A> <span class="archived">(archived <time datetime="2024-05-03">3 May 2024</time>; <a'
                ." href=\"{$a}\">original</a>)</span>, &nbsp;y",
        ];
        yield 'html bare' => [
            'html',
            "<p>{$a}?x&amp;y.",
            "<p><a href=\"%s\">{$a}?x&amp;y</a> <span class=\"archived\">(archived <time datetime=\"2024-05-03\">3 May 2024</time>"
                .')</span>.',
        ];
        yield 'bibtex' => [
            'bibtex',
            "% c\n@online{p,\n  url = {{$a}},\n  title={T}\n}\n",
            "% c\n@online{p,\n  url = {%s},\n  title={T},\n  addendum = {Archived 3 May 2024; original: \\url{{$a}}}\n}\n",
        ];
        yield 'ris' => [
            'ris',
            "TY  - ELEC\r\nUR  - {$a}\r\nER  - \r\n",
            "TY  - ELEC\r\nUR  - %s\r\nN1  - Archived 3 May 2024; original: {$a}\r\nER  - \r\n",
        ];
        yield 'csl' => [
            'csl-json',
            '[ {"URL": "http:\/\/lantern.test\/a", "id":1 } ]',
            '[ {"URL": "%s", "custom": {"original-URL": "http://lantern.test/a", "archived": "2024-05-03", "said": "Archived 3 May 2024;'
                .' original: http://lantern.test/a"}, "id":1 } ]',
        ];
    }

    public function testOfficeDocuments(): void
    {
        foreach (['docx' => DocxDraft::class, 'odt' => OdtDraft::class] as $kind => $class) {
            $path = $this->folder->file('draft.'.$kind, 'docx' === $kind ? Office::docx() : Office::odt());
            $found = DraftReferences::of(new $class($path))->all;
            self::assertSame([
                ['http://lantern.test/a', null, null, 'the report'], ['http://b.test/x?y&z', null, null, 'http://b.test/x?y&z'],
                ['http://c.test/', '1', '2024-11-03', 'http://c.test/'],
                ...('docx' === $kind ? [
                    ['http://d.test/', '1', null, 'a field'], ['http://e.test/', 'i', null, 'http://e.test/'],
                ] : [['http://e.test/', 'i', null, 'http://e.test/']]),
            ],
                self::inOrder(array_map(
                    static fn (Reference $one): array => [(string) $one->url, $one->note, $one->accessed, $one->label], $found,
                )),
                $kind);
            $claims = array_column(array_map(static fn (Reference $one): array => [(string) $one->url, $one->claim], $found), 1, 0);
            self::assertSame('The seal leaked.', $claims['http://c.test/']);
            $this->repaired(new $class($path));
            $again = array_map(
                static fn (Reference $one): string => (string) $one->url, DraftReferences::of(new $class($this->folder->path.'/out'))->all,
            );
            self::assertNotContains('http://lantern.test/a?', $again);
            self::assertGreaterThanOrEqual(\count($found), \count(array_keys($again, self::KEPT, true)), $kind.': '.implode(' ', $again));
            [$before, $after] = [Office::parts($path), Office::parts($this->folder->path.'/out')];
            self::assertSame(array_keys($before), array_keys($after), 'every part is there, in its order');
            self::assertSame($before['extra/picture.bin'], $after['extra/picture.bin']);
            foreach ($after as $name => $part) {
                self::assertTrue(!str_ends_with($name, '.xml') || false !== simplexml_load_string($part), $name);
            }
        }
    }

    public function testAnAddressThatIsSimplyWrittenGetsALinkBehindIt(): void
    {
        $w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main';
        foreach ([
            '<w:rPr><w:b/><w:i/></w:rPr>' => true,
            '<w:rPr><w:b/><w:rPrChange w:id="1"><w:rPr><w:i/></w:rPr></w:rPrChange></w:rPr>' => false,
            '' => false,
        ] as $properties => $isCopied) {
            $path = $this->folder->file(
                'bare.docx',
                Office::zip([
                    'word/document.xml' => "<w:document xmlns:w=\"{$w}\"><w:body><w:p><w:r w:rsidR=\"00A\">{$properties}<w:t"
                        .' xml:space="preserve">See http://a.test/?x&amp;y, and http://b.test/ too</w:t><w:tab/></w:r></w:p></w:body>'
                            .'</w:document>',
                ]),
            );
            $this->repaired(new DocxDraft($path));
            $xml = Office::parts($this->folder->path.'/out')['word/document.xml'];
            $tree = simplexml_load_string($xml);
            self::assertNotFalse($tree);
            $tree->registerXPathNamespace('w', $w);
            $all = static fn (string $what): array => array_map(strval(...), \is_array($found = $tree->xpath($what)) ? $found : []);
            self::assertSame(
                'See http://a.test/?x&y [archived 3 May 2024: '.self::KEPT.'], and http://b.test/ [archived 3 May 2024: '.self::KEPT
                    .'] too',
                implode('', $all('//w:t')),
            );
            self::assertSame([' HYPERLINK "'.self::KEPT.'" ', ' HYPERLINK "'.self::KEPT.'" '], $all('//w:p/w:r/w:instrText'));
            self::assertCount(6, $all('//w:p/w:r/w:fldChar'));
            self::assertCount(15, $all('//w:p/w:r'), 'six new runs and what is left, for each');
            self::assertCount($isCopied ? 15 : ('' === $properties ? 0 : 1), $all('//w:p/w:r/w:rPr'));
            self::assertCount(1, $all('//w:tab'));
        }
        $path = $this->folder->file(
            'bare.odt',
            Office::zip([
                'content.xml' => '<o:d xmlns:o="urn:o" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><text:p>See'
                    .' http://a.test/.</text:p></o:d>',
            ]),
        );
        $this->repaired(new OdtDraft($path));
        self::assertStringContainsString(
            '<text:p>See http://a.test/ [archived 3 May 2024: '.self::KEPT.'].</text:p>',
            Office::parts($this->folder->path.'/out')['content.xml'],
            'without the names that links are made of',
        );
    }

    public function testOneOfTwoThatAreAlikeIsLedElsewhere(): void
    {
        $draft = new MarkdownDraft("<http://a.test/> (accessed 2024-05-03)\n\n<http://a.test/> (accessed 2024-06-03)");
        $second = DraftReferences::of($draft)->all[1];
        $out = $this->folder->path.'/out';
        $draft->repair(
            [new Repair($second->place, (string) $second->url, self::KEPT, '3 June 2024', '2024-06-03')],
            new Wording('archiviert', 'Original:'),
            $out,
        );
        self::assertSame(
            "<http://a.test/> (accessed 2024-05-03)\n\n<".self::KEPT
                .'> (archiviert 3 June 2024; Original: <http://a.test/>) (accessed 2024-06-03)',
            file_get_contents($out),
        );
    }

    /** What people hand in was made by others. */
    public function testHostileDocuments(): void
    {
        $entity = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY e SYSTEM'
            .' "file:///etc/passwd">]><w:document><w:p><w:r><w:t>&e;</w:t></w:r></w:p></w:document>';
        $bomb = Office::zip(['word/document.xml' => str_repeat(' ', 80_000_000)]);
        $deep = Office::zip(['word/document.xml' => '<w:document>'.str_repeat('<w:p>', 5_000)]);
        foreach ([
            Office::zip(['word/document.xml' => $entity]),
            $bomb,
            $deep,
            Office::zip(['x' => '']),
            'PK'.str_repeat('x', 200),
            Office::zip(['word/document.xml' => '<w:p', 'content.xml' => '<a>']),
        ] as $bytes) {
            foreach ([DocxDraft::class, OdtDraft::class] as $class) {
                try {
                    self::assertSame([], DraftReferences::of(new $class($this->folder->file('x', $bytes)))->all);
                } catch (UnreadableDraft $e) {
                    self::assertNotSame('', $e->getMessage());
                }
            }
        }
        $path = $this->folder->file('t', Office::zip(['word/document.xml' => $entity]));
        $this->expectExceptionMessageMatches('/document type/');
        DraftReferences::of(new DocxDraft($path));
    }

    public function testWhatIsMadeToTakeForever(): void
    {
        $begun = ProcessorTime::seconds();
        foreach ([
            str_repeat('[\\[', 20_000), str_repeat('[', 60_000), str_repeat('<!--', 20_000), str_repeat('<a "', 20_000),
            'http://x.test/'.str_repeat(')', 60_000), str_repeat('http://', 20_000), str_repeat("[^1]: \n", 9_000),
            str_repeat('@a{b,c={', 9_000), str_repeat('{"URL":', 9_000), str_repeat('`', 60_000), str_repeat('x.[^1] ', 9_000),
        ] as $source) {
            foreach (['text', 'markdown', 'html', 'bibtex', 'ris', 'csl-json', 'csv', 'pdf'] as $format) {
                try {
                    self::assertLessThan(6_001, \count(DraftReferences::of(self::draft($format, $source))->all));
                } catch (UnreadableDraft) {
                    self::assertContains($format, ['csl-json', 'pdf']);
                }
            }
        }
        self::assertLessThan(60.0, ProcessorTime::seconds() - $begun, 'a bound against what never ends');
    }

    public function testMutants(): void
    {
        mt_srand(7);
        foreach (self::texts() as [$format, $source]) {
            for ($n = 0; $n < 60; ++$n) {
                $bytes = $source;
                for ($k = mt_rand(1, 6); $k > 0; --$k) {
                    $at = mt_rand(0, \strlen($bytes) - 1);
                    $bytes = substr($bytes, 0, $at)
                        .[
                            '', "\0", '<', '"', '[', '}', "\xFF", "\n", '&', substr($bytes, mt_rand(0, \strlen($bytes) - 1), 9),
                        ][mt_rand(0, 9)]
                        .substr($bytes, $at + mt_rand(0, 3));
                }
                try {
                    $draft = self::draft($format, mb_scrub($bytes));
                    foreach (DraftReferences::of($draft)->all as $one) {
                        self::assertTrue($one->url->isWeb());
                    }
                    if ($draft instanceof Repairable) {
                        $this->repaired($draft);
                    }
                } catch (UnreadableDraft $e) {
                    self::assertNotSame('', $e->getMessage());
                }
            }
        }
    }

    private function repaired(Repairable $draft): string
    {
        $out = $this->folder->path.'/out';
        @unlink($out);
        $draft->repair(
            array_map(
                static fn (Reference $one): Repair => new Repair($one->place, (string) $one->url, self::KEPT, '3 May 2024', '2024-05-03'),
                DraftReferences::of($draft)->all,
            ),
            new Wording(),
            $out,
        );

        return (string) file_get_contents($out);
    }

    /**
     * @param list<array{string, string|null, string|null, string}> $found
     *
     * @return list<array{string, string|null, string|null, string}>
     */
    private static function inOrder(array $found): array
    {
        sort($found);
        usort(
            $found,
            static fn (array $a, array $b): int => [
                $a[1] ?? '', 'http://lantern.test/a' === $a[0] ? '' : $a[0],
            ] <=> [$b[1] ?? '', 'http://lantern.test/a' === $b[0] ? '' : $b[0]],
        );

        return $found;
    }

    private static function draft(string $format, string $source): Draft
    {
        return match ($format) {
            'markdown' => new MarkdownDraft($source), 'html' => new HtmlDraft($source), 'bibtex' => new BibDraft($source),
            'ris' => new RisDraft($source),
            'csl-json' => new CslDraft($source), 'csv' => new CsvDraft($source), 'pdf' => new PdfDraft($source),
            default => new PlainDraft($source),
        };
    }
}
