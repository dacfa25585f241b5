<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Compare\Console\CompareCommand;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Core\Mhtml\MhtmlWriter;
use Ypomna\Core\Mhtml\Part;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Told;
use Ypomna\Tests\Support\WarcBuilder;

/** The `compare` command on HTML, MHTML and WARC files. */
final class CompareCommandTest extends TestCase
{
    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    /** @param list<array{string, string|null, string|null}> $changes */
    #[DataProvider('pages')]
    public function testTheContract(string $old, string $new, array $changes): void
    {
        [$data, $status] = $this->compare($this->html('a.html', $old), $this->html('b.html', $new));
        self::assertSame(
            $changes,
            array_map(
                static fn (array $c): array => [$c['op'].(isset($c['moved']) ? ', moved' : ''), $c['old'], $c['new']],
                $data['text']['changes'],
            ),
        );
        self::assertSame([] === $changes, $data['identical']);
        self::assertSame([] === $changes ? 0 : 1, $status);
    }

    /**
     * @return iterable<string, array{string, string, list<array{string, string|null, string|null}>}>
     */
    public static function pages(): iterable
    {
        yield 'nothing' => ['<p>a', '<p>a', []];
        yield 'empty files' => ['', '', []];
        yield 'white space, entities, what has no width, attributes' => [
            '<p class=a>Caf&eacute; at  nine o’clock', "<div><p id=b>Cafe\u{301}\u{A0}at\nni\u{200B}ne o&rsquo;clo&shy;ck</div>", [],
        ];
        yield 'cache-busting of styles' => ['<link rel=stylesheet href="a.css?v=1"><p>a', '<link rel=stylesheet href="a.css?v=2"><p>a', []];
        yield 'what is hidden' => [
            '<p>a<p hidden>b<noscript>c</noscript><!-- d -->', '<p>a<p style="display:none">x<script>y</script>', [],
        ];
        yield 'letters, signs and look-alikes count' => [
            '<p>Paid in full', '<p>Pаid in full', [['changed', 'Paid in full', 'Pаid in full']],
        ];
        yield 'moved' => [
            '<p>The first sentence of them all.<p>The second one is here.<p>And the third one, too.',
            '<p>The second one is here.<p>And the third one, too.<p>The first sentence of them all.',
            [['moved', 'The first sentence of them all.', 'The first sentence of them all.']],
        ];
        yield 'moved and changed' => [
            '<p>The seal was fitted in 2021 by the yard.<p>The second one is here.<p>And the third one, too.',
            '<p>The second one is here.<p>And the third one, too.<p>The seal was fitted in 2020 by the yard.',
            [['changed, moved', 'The seal was fitted in 2021 by the yard.', 'The seal was fitted in 2020 by the yard.']],
        ];
        yield 'pre and dt' => [
            "<pre>one line\ntwo line</pre><dl><dt>Term<dd>Said. Again.</dl>",
            "<pre>one line\ntwo lines</pre><dl><dt>Terms<dd>Said. Again.</dl>",
            [['changed', 'two line', 'two lines'], ['changed', 'Term', 'Terms']],
        ];
    }

    public function testAPageThatHasTheSameWordsInOtherPlacesIsTheSame(): void
    {
        $words = '<h1>The ferry</h1><p>It was held in port. Nobody knew why.</p><h2>Times</h2><ul><li>Monday at six</li><li>Tuesday at'
            .' seven</li></ul>';
        foreach ([
            '<div>The ferry</div><section><b>It was held in port.</b> Nobody knew why.<table><tr><td>Times<td>Monday at six<td>Tuesday'
                .' at seven</table></section>',
            '<h1>The ferry</h1><p>It was held in port. Nobody knew why. Times Monday at six Tuesday at seven</p>',
        ] as $n => $other) {
            foreach ([[$words, $other], [$other, $words]] as $m => [$old, $new]) {
                [$data, $status] = $this->compare($this->html("a{$n}{$m}.html", $old), $this->html("b{$n}{$m}.html", $new));
                self::assertSame([true, [], 0], [$data['identical'], $data['text']['changes'], $status], $other);
            }
        }
    }

    public function testWhereNothingIsLeftOnlyTheTextIsTold(): void
    {
        [$data] = $this->compare(
            $this->html('a.html', '<title>Held</title><meta name=description content=A><p>Held in port.'),
            $this->html('b.html', '<body></body>'),
        );
        self::assertSame([[], 1], [$data['meta']['changed'], \count($data['text']['changes'])]);
        [$data] = $this->compare($this->html('c.html', '<title>Held</title>'), $this->html('d.html', '<body></body>'));
        self::assertSame([['name' => 'title', 'old' => 'Held', 'new' => '']], $data['meta']['changed']);
    }

    public function testAPictureThatChangedIsToldOnceHoweverOftenItStands(): void
    {
        $write = fn (string $name, string $bytes): string =>
            $this->folder->file($name, implode('', iterator_to_array(MhtmlWriter::write(
                'T', new \DateTimeImmutable('2024-11-03'), 'http://a.test/', 's', [
                    new Part(
                        'http://a.test/',
                        'text/html; charset=utf-8',
                        static fn (): array => ['<p>x<amp-img src="x y.png"><img src="x y.png"></amp-img><p>y<img src="x y.png">'],
                    ),
                    new Part('http://a.test/x%20y.png', 'image/png', static fn (): array => [$bytes]),
                ],
            ), false)));
        [$data] = $this->compare($write('a.mht', 'one'), $write('b.mht', 'two'));
        self::assertSame(['http://a.test/x%20y.png'], $data['images']['changed']);
        self::assertFalse($data['identical']);
    }

    public function testLinksPicturesAndWhatThePageSaysOfItself(): void
    {
        [$data] = $this->compare(
            $this->html(
                'a.html',
                '<title>T</title><meta name=description content=A><base href="http://x.test/d/"><a href="/a">one</a> <a href="b">two</a>'
                    .' <a href=gone>gone</a><img src=p.png><p>text<img src=q.png>',
            ),
            $this->html(
                'b.html',
                '<title>U</title><meta name=description content=B><base href="http://x.test/d/"><a href="/a">uno</a> <a href="c">two</a>'
                    .' <a href=new>new</a><img src=p.png><p>text<img src=r.png>',
            ),
        );
        self::assertSame([['text' => 'two', 'old' => 'http://x.test/d/b', 'new' => 'http://x.test/d/c']], $data['links']['retargeted']);
        self::assertSame([['text' => 'new', 'href' => 'http://x.test/d/new']], $data['links']['added']);
        self::assertSame([['text' => 'gone', 'href' => 'http://x.test/d/gone']], $data['links']['removed']);
        self::assertSame(['added' => [], 'removed' => [], 'changed' => ['http://x.test/d/r.png']], $data['images']);
        self::assertSame(
            [['name' => 'title', 'old' => 'T', 'new' => 'U'], ['name' => 'description', 'old' => 'A', 'new' => 'B']],
            $data['meta']['changed'],
        );
        // Without a base they stay as written, and a link that moved is none.
        [$data] = $this->compare(
            $this->html('a.html', '<a href=a>x</a><p>It is here.<a href=b>y</a>'),
            $this->html('b.html', '<a href=b>y</a><p>It is here.<a href=a>x</a>'),
        );
        self::assertSame(['added' => [], 'removed' => [], 'retargeted' => []], $data['links']);
    }

    public function testACaptureIsNamedByAddressAndMoment(): void
    {
        $file = $this->folder->file('pages.warc.gz', (new WarcBuilder())
            ->exchange(
                'http://x.test/', '2024-01-01T00:00:00Z', '<p>One.<img src=/p.png>',
            )->exchange('http://x.test/p.png', '2024-01-01T00:00:01Z', 'first', 'image/png')
            ->exchange('http://x.test/', '2024-02-01T00:00:00Z', '<p>Two.<img src=/p.png>')->exchange(
                'http://x.test/p.png', '2024-02-01T00:00:01Z', 'second', 'image/png',
            )
            ->exchange('http://x.test/', '2024-03-01T00:00:00Z', '<p>Raw.')->rendered('http://x.test/', '2024-03-01T00:00:00Z', '<p>Three.')
            ->exchange('http://x.test/other?a=b@c', '2024-01-01T00:00:00Z', '<p>Other.')->bytes());
        [$data] = $this->compare($file.'#http://x.test/@2024-01-01T00:00:00Z', $file.'#http://x.test/@2024-02-01T00:00:00Z');
        self::assertSame([['One.', 'Two.']], array_map(static fn (array $c): array => [$c['old'], $c['new']], $data['text']['changes']));
        self::assertSame(['http://x.test/p.png'], $data['images']['changed']);
        // Without a moment the newest; of it the rendered document.
        [$data] = $this->compare($file.'#http://x.test/@2024-02-01T00:00:00Z', $file.'#http://x.test/');
        self::assertSame('Three.', $data['text']['changes'][0]['new']);
        [$data] = $this->compare($file.'#http://x.test/', $file.'#http://x.test/other?a=b@c');
        self::assertSame('Other.', $data['text']['changes'][0]['new']);
    }

    public function testAnElementThatBecomesAPictureIsOne(): void
    {
        $img = '<p>One.<img src="http://x.test/p.png">';
        foreach (['' => 'first', 'x' => 'second'] as $changed => $bytes) {
            $old = $this->mhtml("old{$changed}.mhtml", $img, 'first');
            foreach (['<x-img src="http://x.test/p.png"></x-img>', '<x-img src="http://x.test/p.png"><img'
                    .' src="http://x.test/p.png"></x-img>'] as $n => $element) {
                [$data] = $this->compare($old, $this->mhtml("new{$changed}{$n}.mhtml", '<p>One.'.$element, $bytes));
                self::assertSame(
                    ['added' => [], 'removed' => [], 'changed' => 'first' === $bytes ? [] : ['http://x.test/p.png']], $data['images'],
                );
            }
        }
    }

    public function testMhtmlByItsPartsAndAgainstHtml(): void
    {
        $old = $this->mhtml('a.mhtml', '<p>One.<img src="http://x.test/p.png">', 'first');
        [$data, $status] = $this->compare($old, $this->mhtml('b.mhtml', '<p>One.<img src="http://x.test/p.png">', 'second'));
        self::assertSame([1, ['http://x.test/p.png']], [$status, $data['images']['changed']]);
        [$data, $status] = $this->compare($old, $this->html('b.html', '<p>One.<img src="http://x.test/p.png">'));
        self::assertSame([0, true], [$status, $data['identical']]);
    }

    public function testAPictureThatIsCalledOtherwiseInEachMessageIsTheSame(): void
    {
        $message = static fn (string $id, string $bytes): string =>
            "From: <x>\r\nMIME-Version: 1.0\r\nContent-Type: multipart/related; boundary=b; type=\"text/html\"\r\n\r\n--b\r\n"
                ."Content-Type: text/html\r\n\r\n<p>One.<img src=\"cid:{$id}\">\r\n--b\r\nContent-Type: image/png\r\nContent-ID: <{$id}>"
                    ."\r\n\r\n{$bytes}\r\n--b--\r\n";
        $old = $this->folder->file('a.mht', $message('a@x', 'bytes'));
        self::assertSame(0, $this->compare($old, $this->folder->file('b.mht', $message('b@x', 'bytes')))[1]);
        self::assertSame(
            ['cid:c@x'], $this->compare($old, $this->folder->file('c.mht', $message('c@x', 'others')))[0]['images']['changed'],
        );
    }

    public function testRulesPassOver(): void
    {
        $rules = $this->folder->file('rules.json', '{"rules": [{"kind": "pattern", "pattern": "Views: \\\\d+"}]}');
        $files = [$this->html('a.html', '<p>Views: 1'), $this->html('b.html', '<p>Views: 2')];
        self::assertSame(1, $this->compare(...$files)[1]);
        [$data, $status] = $this->compare($files[0], $files[1], ['--rules' => $rules]);
        self::assertSame([0, [], 1], [$status, $data['text']['changes'], \count($data['passedOver']['changes'])]);
        self::assertStringContainsString(
            'Rule 1', $this->refused($files[0], $files[1], ['--rules' => $this->folder->file('bad.json', '{"rules": [{}]}')]),
        );
    }

    public function testWhatCannotBeReadIsNamed(): void
    {
        $page = $this->html('a.html', '<p>a');
        $warc = $this->folder->file(
            'p.warc.gz',
            (new WarcBuilder())->exchange(
                'http://x.test/', '2024-01-01T00:00:00Z', '<p>a',
            )->exchange('http://y.test/', '2024-01-01T00:00:00Z', '<p>b')->bytes(),
        );
        foreach ([
            $this->folder->path.'/none.html' => 'no such file',
            $warc.'#http://z.test/' => 'holds no page with the address http://z.test/',
            $warc.'#http://x.test/@2024-99-01T00:00:00Z' => 'is no moment',
        ] as $name => $why) {
            self::assertStringContainsString($why, $this->refused($page, $name));
        }
    }

    /**
     * @param array<string, string> $options
     *
     * @return array{
     *     array{
     *         identical: bool, similarity: float,
     *         text: array{changes: list<array{op: string, old: string|null, new: string|null, moved?: bool}>},
     *         links: array<string, list<array<string, string>>>, images: array<string, list<string>>,
     *         meta: array{changed: list<array<string, string>>},
     *         passedOver: array{changes: list<array<string, mixed>>},
     *     },
     *     int,
     * }
     */
    private function compare(string $old, string $new, array $options = []): array
    {
        $told = $this->told($old, $new, $options);
        self::assertCount(1, $told->rows, $told->errors);
        /**
         * @var array{
         *     identical: bool, similarity: float,
         *     text: array{changes: list<array{op: string, old: string|null, new: string|null, moved?: bool}>},
         *     links: array<string, list<array<string, string>>>, images: array<string, list<string>>,
         *     meta: array{changed: list<array<string, string>>}, passedOver: array{changes: list<array<string, mixed>>},
         * } $data
         */
        $data = $told->rows[0];

        return [$data, $told->status];
    }

    /** @param array<string, string> $options */
    private function told(string $old, string $new, array $options = []): Told
    {
        return Told::by(new CompareCommand(), ['old' => $old, 'new' => $new] + $options);
    }

    /** @param array<string, string> $options */
    private function refused(string $old, string $new, array $options = []): string
    {
        try {
            $this->told($old, $new, $options);
        } catch (UnreadableFile $e) {
            return $e->getMessage();
        }
        self::fail('It was read.');
    }

    private function html(string $name, string $html): string
    {
        return $this->folder->file($name, '' === $html ? '' : '<!doctype html><meta charset=utf-8>'.$html);
    }

    private function mhtml(string $name, string $html, string $picture): string
    {
        $parts = [
            new Part('http://x.test/', 'text/html; charset=utf-8', static fn (): array => [$html]),
            new Part('http://x.test/p.png', 'image/png', static fn (): array => [$picture]),
        ];

        return $this->folder->file(
            $name,
            implode(
                '',
                iterator_to_array(MhtmlWriter::write('Title', new \DateTimeImmutable('2024-11-03'), 'http://x.test/', 's', $parts), false),
            ),
        );
    }
}
