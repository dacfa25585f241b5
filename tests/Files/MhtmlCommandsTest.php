<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Exchange\Console\MhtmlCheckCommand;
use Ypomna\App\Exchange\Console\MhtmlListCommand;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Mhtml\MhtmlWriter;
use Ypomna\Core\Mhtml\Part;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Told;

/** `mhtml:list` and `mhtml:check` on files of several hands. */
final class MhtmlCommandsTest extends TestCase
{
    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    public function testARowSaysEverythingOfAPart(): void
    {
        $told = $this->list(self::related([
            "Content-Type: text/html;\r\n charset=\"ISO-8859-1\"\r\nContent-Transfer-Encoding: Quoted-Printable\r\nContent-Location:"
                ." page.html\r\nContent-ID: <root@x>\r\n\r\n<p>caf=E9=\r\n!",
            "Content-Type: image/png\r\nContent-Transfer-Encoding: base64\r\nContent-Location: http://b.test/\r\n"
                ." x.png\r\n\r\naGVs\r\nbG8=\r\n",
        ], "Content-Location: http://a.test/dir/\r\n"));
        self::assertSame(0, $told->status);
        self::assertSame([
            [
                'page' => 0, 'index' => 0, 'root' => true, 'location' => 'http://a.test/dir/page.html', 'contentId' => 'root@x',
                'mime' => 'text/html', 'charset' => 'iso-8859-1', 'encoding' => 'quoted-printable', 'bytes' => 8,
                'sha256' => hash('sha256', "<p>caf\xE9!"), 'problem' => null,
            ],
            [
                'page' => 0, 'index' => 1, 'root' => false, 'location' => 'http://b.test/x.png', 'contentId' => null, 'mime' => 'image/png',
                'charset' => null, 'encoding' => 'base64', 'bytes' => 5, 'sha256' => hash('sha256', 'hello'), 'problem' => null,
            ],
        ], $told->rows);
    }

    #[DataProvider('bodies')]
    public function testBodiesAreDecoded(string $encoding, string $coded, string $body, bool $bad = false): void
    {
        foreach (["\r\n", "\n"] as $lineEnd) {
            $file = self::related(["Content-Type: application/x\r\nContent-Transfer-Encoding: {$encoding}\r\n\r\n".$coded]);
            $told = $this->list(str_replace("\r\n", $lineEnd, $file));
            self::assertSame(
                hash('sha256', str_replace("\r\n", $lineEnd, $body)), $told->rows[0]['sha256'], json_encode($lineEnd, \JSON_THROW_ON_ERROR),
            );
            self::assertSame($bad, null !== $told->rows[0]['problem']);
        }
    }

    /**
     * @return iterable<string, array{0: string, 1: string, 2: string, 3?: bool}>
     */
    public static function bodies(): iterable
    {
        yield '7bit' => ['7bit', "one\r\ntwo\r\n", "one\r\ntwo\r\n"];
        yield 'no encoding named' => ['', 'x', 'x'];
        yield '8bit' => ['8BIT', "\xc3\xa4\r\n\r\n", "\xc3\xa4\r\n\r\n"];
        yield 'binary with lone line ends' => ['binary', "a\rb\0c--x", "a\rb\0c--x"];
        yield 'quoted-printable' => ['quoted-printable', "a=3D=\r\nb  \r\nc=20\r\n=C3=a4", "a=b\r\nc \r\n\xc3\xa4"];
        yield 'quoted-printable with a stray =' => ['quoted-printable', '50 = 50', '50 = 50', true];
        yield 'base64' => ['Base64', "QUJD\r\nREU=", 'ABCDE'];
        yield 'base64 in odd lines' => ['base64', "Q\r\nUJ\r\nDREU\r\n=", 'ABCDE'];
        yield 'base64 without padding' => ['base64', 'QUJDREU', 'ABCDE', true];
        yield 'base64 with other characters' => ['base64', 'QU!!JD', 'ABC', true];
        yield 'base64, one behind the other' => ['base64', "QUI=\r\nQ0Q=", 'ABCD'];
        yield 'base64, empty' => ['base64', '', ''];
        yield 'uuencode' => ['x-uuencode', "begin 644 a.txt\r\n#0V%T\r\n`\r\nend", 'Cat'];
        yield 'unknown' => ['rot13', 'x', 'x', true];
        yield 'ends in empty lines' => ['7bit', "x\r\n\r\n\r\n", "x\r\n\r\n\r\n"];
    }

    public function testSeveralPagesInOneFile(): void
    {
        $page = static fn (string $n): string => 'Content-Type: multipart/related; boundary="in'.$n
            ."\"\r\n\r\n--in{$n}\r\nContent-Type: text/css\r\nContent-ID: <c{$n}>\r\n\r\np{}\r\n--in{$n}\r\nContent-Type: text/html\r\n"
                ."Content-ID: <r{$n}>\r\n\r\n<p>\r\n--in{$n}--";
        $file = "MIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=out\r\n\r\npreamble\r\n--out\r\n"
            .str_replace('related; ', 'related; start="<r1>"; ', $page('1'))."\r\n\r\n--out  \r\n".$page('2')."\r\n--out--\r\nepilogue\r\n";
        $told = $this->list($file);
        self::assertSame([0, 0, 1, 1], $told->column('page'));
        self::assertSame([false, true, true, false], $told->column('root'));
        self::assertSame(['c1', 'r1', 'c2', 'r2'], $told->column('contentId'));
        self::assertSame(
            [['pages' => 2, 'parts' => 4, 'problems' => [], 'valid' => true]],
            array_map(static fn (array $row): array => array_diff_key($row, ['file' => 0]), $this->check($file)->rows),
        );
    }

    public function testARootOfAlternativesAndNestedMessages(): void
    {
        $alternative = "Content-Type: multipart/alternative; boundary=alt\r\n\r\n--alt\r\n\r\nplain\r\n--alt\r\nContent-Type:"
            ." text/html\r\n\r\n<p>rich\r\n--alt--";
        self::assertSame(
            [false, true, false], $this->list(self::related([$alternative, "Content-Type: image/gif\r\n\r\nGIF"]))->column('root'),
        );
        $forwarded = "Content-Type: message/rfc822\r\n\r\n".self::related(["Content-Type: text/html\r\n\r\n<p>"]);
        $told = $this->list("Content-Type: multipart/mixed; boundary=m\r\n\r\n--m\r\n\r\nsee below\r\n--m\r\n".$forwarded."\r\n--m--\r\n");
        self::assertSame(['text/plain', 'text/html'], $told->column('mime'));
        self::assertSame([false, true], $told->column('root'));
        self::assertSame(0, $told->status);
    }

    #[DataProvider('locations')]
    public function testLocationsAreResolved(string $outer, string $own, ?string $location): void
    {
        self::assertSame($location, $this->list(self::related(["Content-Type: text/html\r\n{$own}\r\n<p>"], $outer))->rows[0]['location']);
    }

    /**
     * @return iterable<string, array{string, string, string|null}>
     */
    public static function locations(): iterable
    {
        yield 'none' => ["Content-Location: http://a.test/\r\n", '', null];
        yield 'absolute, as it is written' => ['', "Content-Location: HTTP://A.test/x?y\r\n", 'HTTP://A.test/x?y'];
        yield 'cid' => ['', "Content-Location: cid:frame-1@mhtml\r\n", 'cid:frame-1@mhtml'];
        yield 'relative to the multipart' => ["Content-Location: http://a.test/b/c\r\n", "Content-Location: ../d\r\n", 'http://a.test/d'];
        yield 'relative to its own base' => [
            "Content-Location: http://a.test/b/c\r\n", "Content-Base: http://o.test/p/\r\nContent-Location: d\r\n", 'http://o.test/p/d',
        ];
        yield 'relative to the base of the multipart' => [
            "Content-Base: http://o.test/p/\r\n", "Content-Location: d\r\n", 'http://o.test/p/d',
        ];
        yield 'relative to nothing' => ['', "Content-Location: d/e.html\r\n", 'thismessage:/d/e.html'];
        yield 'rooted in nothing' => ['', "Content-Location: /e.html\r\n", 'thismessage:/e.html'];
        yield 'folded' => ['', "Content-Location: http://a.test/\r\n\tlong/\r\n path\r\n", 'http://a.test/long/path'];
        yield 'a blank that is no folding' => ['', "Content-Location: cid:frame 1@mhtml\r\n", 'cid:frame 1@mhtml'];
        yield 'folded at once' => ['', "Content-Location:\r\n http://a.test/\r\n", 'http://a.test/'];
        yield 'encoded words' => ['', "Content-Location: =?utf-8?Q?http=3A//a.test/=C3=A4?=\r\n =?utf-8?B?L2I=?=\r\n", 'http://a.test/ä/b'];
    }

    /**
     * @param list<string> $problems
     */
    #[DataProvider('files')]
    public function testSaysWhatIsWrong(string $file, array $problems, int $pages, int $parts): void
    {
        $told = $this->check($file);
        self::assertSame($problems, $told->problems('part'));
        $valid = [] === array_filter($problems, static fn (string $p): bool => !str_starts_with($p, 'unresolved'));
        self::assertSame(
            [$pages, $parts, $valid, $valid ? 0 : 1],
            [$told->rows[0]['pages'], $told->rows[0]['parts'], $told->rows[0]['valid'], $told->status],
        );
    }

    /**
     * @return iterable<string, array{string, list<string>, int, int}>
     */
    public static function files(): iterable
    {
        $html = "Content-Type: text/html\r\nContent-Location: http://a.test/\r\n\r\n";
        yield 'sound' => [self::related([$html.'<img src="cid:p">', "Content-Type: image/gif\r\nContent-ID: <p>\r\n\r\nGIF"]), [], 1, 2];
        yield 'no header' => ['<html><p>x', ['not-mhtml@null'], 0, 0];
        yield 'empty' => ['', ['not-mhtml@null'], 0, 0];
        yield 'mail' => ["Subject: x\r\n\r\nhello", ['not-mhtml@null'], 1, 1];
        yield 'a single page' => [$html.'<p>x', [], 1, 1];
        yield 'no boundary named' => [str_replace('; boundary="b"', '', self::related([$html.'x'])), ['no-boundary@null'], 1, 1];
        yield 'boundary nowhere' => [
            str_replace('boundary="b"', 'boundary="c"', self::related([$html.'x'])), ['no-boundary@null', 'no-root@null'], 1, 0,
        ];
        yield 'cut off' => [substr(self::related([$html.'x']), 0, -8), ['unclosed-boundary@null'], 1, 1];
        yield 'an inner one unclosed' => [
            self::related(["Content-Type: multipart/alternative; boundary=i\r\n\r\n--i\r\nContent-Type: text/html\r\n\r\nx"]),
            ['unclosed-boundary@null'],
            1,
            1,
        ];
        yield 'start names nobody' => [
            str_replace('boundary="b"', 'boundary="b"; start="<none>"', self::related([$html.'x'])), ['no-root@null'], 1, 1,
        ];
        yield 'bad encoding' => [
            self::related([$html.'x', "Content-Type: image/gif\r\nContent-Transfer-Encoding: base64\r\n\r\n%%%%"]),
            ['bad-encoding@1'],
            1,
            2,
        ];
        yield 'unresolved' => [
            self::related([$html
                .'<link rel=stylesheet href="a.css"><img src="b.png" srcset="c.png 2x"><img src="http://b.test/d.png#f"><script'
                    .' src=//b.test/e.js></script><style>p{background:url(f.png)}</style><a'
                        .' href="http://b.test/page">x</a><noscript><img src=n.png></noscript><!-- <img src=k.png> --><img'
                            .' src="data:image/gif;base64,AA=="><iframe src="cid:f"></iframe>',
                "Content-Type: image/png\r\nContent-Location: http://a.test/c.png\r\n\r\nP", 'Content-Type:'
                    ." image/png\r\nContent-Location: http://b.test/d.png\r\n\r\nP"]),
            // Which candidate a browser takes depends on its screen: b.png is asked for as well.
            ['unresolved@0', 'unresolved@0', 'unresolved@0', 'unresolved@0'], 1, 3,
        ];
    }

    public function testWhatTheBrowserAndWeWriteIsSound(): void
    {
        $parts = [
            new Part('http://a.test/', 'text/html; charset=utf-8', static fn (): array => ['<p>ä<img src="x.png">']),
            new Part('http://a.test/x.png', 'image/png', static fn (): array => [random_bytes(5_000)]),
        ];
        $file = implode(
            '', iterator_to_array(MhtmlWriter::write('Title', new \DateTimeImmutable('2024-11-03'), 'http://a.test/', 's', $parts), false),
        );
        $told = $this->check($file);
        self::assertSame([[], true], [$told->problems(), $told->rows[0]['valid']]);
        self::assertSame(['http://a.test/', 'http://a.test/x.png'], $this->list($file)->column('location'));
    }

    /** @return iterable<string, array{string, list<string>, list<string>}> a message, the types of its leaves, their bodies */
    public static function messages(): iterable
    {
        $mixed = 'Content-Type: multipart/mixed; boundary="B"'."\r\n";
        yield 'an inner message uses the boundary again' => [
            $mixed."\r\n--B\r\n\r\none\r\n--B\r\nContent-Type: message/rfc822\r\n\r\nSubject: s\r\n".$mixed
                ."\r\n--B\r\nContent-Type: text/html\r\n\r\n<p>two\r\n--B--\r\n",
            ['text/plain', 'text/html'], ['one', '<p>two'],
        ];
        yield 'an inner part that is not closed ends with the outer one' => [
            $mixed."\r\n--B\r\nContent-Type: multipart/alternative;"
                ." boundary=I\r\n\r\n--I\r\n\r\none\r\n--B\r\n\r\ntwo\r\n--I\r\nthree\r\n--B--\r\n",
            ['text/plain', 'text/plain'], ['one', "two\r\n--I\r\nthree"],
        ];
        yield 'no empty line before the body' => [
            "Subject: s\r\nContent-Type: text/html\r\n<p>no blank: line\r\nmore\r\n", ['text/html'], ["<p>no blank: line\r\nmore\r\n"],
        ];
        yield 'no empty line in a part' => [
            $mixed."\r\n--B\r\nContent-Type: text/css\r\nbody { color: red }\r\n\r\np{}\r\n--B\r\n<p>nothing at all\r\n--B--\r\n",
            ['text/css', 'text/plain'], ["body { color: red }\r\n\r\np{}", '<p>nothing at all'],
        ];
        yield 'no empty line before the first part' => [
            $mixed."--B\r\nContent-Type: text/html\r\n\r\n<p>x\r\n--B--\r\n", ['text/html'], ['<p>x'],
        ];
        yield 'a header and nothing else' => ["Subject: s\r\nContent-Type: text/html", ['text/html'], ['']];
    }

    /**
     * @param list<string> $types
     * @param list<string> $bodies
     */
    #[DataProvider('messages')]
    public function testMessagesAreReadAsTheyAreMeant(string $file, array $types, array $bodies): void
    {
        $told = $this->list($file);
        self::assertSame($types, $told->column('mime'));
        self::assertSame(array_map(static fn (string $body): string => hash('sha256', $body), $bodies), $told->column('sha256'));
    }

    public function testAContentIdKeepsItsBlanks(): void
    {
        $parts = [
            "Content-Type: text/html\r\nContent-ID:\r\n <root@x>\r\n\r\n<iframe src=\"cid:frame 1@x\"></iframe>",
            "Content-Type: text/html\r\nContent-ID: < frame 1@x >\r\n\r\n<p>in the frame",
        ];
        self::assertSame(['root@x', 'frame 1@x'], $this->list(self::related($parts))->column('contentId'));
    }

    public function testPythonsReaderSeesTheSameParts(): void
    {
        $text = "Zeile eins\r\nä = ö\r\n".str_repeat('lang ', 200);
        $file = self::related([
            "Content-Type: text/html; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n".quoted_printable_encode($text),
            "Content-Type: image/png\r\nContent-Transfer-Encoding: base64\r\n\r\n".chunk_split(base64_encode(random_bytes(3_000))),
            "Content-Type: text/plain\r\nContent-Transfer-Encoding: 8bit\r\n\r\n".$text,
            "Content-Type: message/rfc822\r\n\r\nSubject: inner\r\n\r\ninner text\r\n",
        ]);
        $path = $this->folder->file('p.mht', $file);
        $script = 'import email,hashlib,sys'."\n".'for p in email.message_from_bytes(open(sys.argv[1],"rb").read()).walk():'."\n"
            .' if not p.is_multipart(): print(hashlib.sha256(p.get_payload(decode=True)).hexdigest())';
        exec('python3 -c '.escapeshellarg($script).' '.escapeshellarg($path), $out, $status);
        self::assertSame(0, $status);
        self::assertSame($out, Told::by(new MhtmlListCommand(), ['file' => $path])->column('sha256'));
    }

    public function testMutantsAndBombsEndInFindings(): void
    {
        mt_srand(12);
        $seed = self::related([
            "Content-Type: text/html\r\nContent-Transfer-Encoding: quoted-printable\r\nContent-Location: http://a.test/\r\n\r\n<p>=C3=A4",
            "Content-Type: multipart/alternative; boundary=i\r\n\r\n--i\r\n\r\na\r\n--i\r\nContent-Type:"
                ." image/gif\r\nContent-Transfer-Encoding: base64\r\n\r\nQUJD\r\n--i--",
        ]);
        for ($n = 0; $n < 2_000; ++$n) {
            $bytes = $seed;
            for ($times = mt_rand(1, 5); $times > 0; --$times) {
                $at = mt_rand(0, \strlen($bytes));
                $bytes = match (mt_rand(0, 3)) {
                    0 => substr($bytes, 0, $at),
                    1 => substr_replace($bytes, \chr(mt_rand(0, 255)), min($at, max(0, \strlen($bytes) - 1)), 1),
                    2 => substr_replace($bytes, substr($bytes, mt_rand(0, $at), mt_rand(0, 120)), $at, 0),
                    default => substr_replace($bytes, '', $at, mt_rand(1, 40)),
                };
            }
            $archive = MhtmlReader::read($this->folder->file('m.mht', $bytes));
            foreach ($archive->parts as $index => $part) {
                self::assertSame($index, $part->index);
                self::assertSame($part->sha256, hash('sha256', implode('', iterator_to_array($archive->body($part), false))));
            }
        }
        $deep = '';
        for ($n = 0; $n < 3_000; ++$n) {
            $deep .= "Content-Type: multipart/mixed; boundary=b{$n}\r\n\r\n--b{$n}\r\n";
        }
        foreach ([
            $deep,
            str_repeat('A: b'."\r\n", 200_000),
            "Content-Type: multipart/related; boundary=b\r\n\r\n".str_repeat("--b\r\n\r\n", 100_000),
            "Content-Type: multipart/related; boundary=b\r\n\r\n--b\r\n".str_repeat('x', 20_000_000),
        ] as $bomb) {
            self::assertSame(1, $this->check($bomb)->status);
        }
    }

    public function testMemoryDoesNotGrowWithTheFile(): void
    {
        $path = $this->folder->path.'/large.mht';
        $handle = fopen($path, 'w');
        self::assertNotFalse($handle);
        fwrite(
            $handle,
            "Content-Type: multipart/related; boundary=b\r\n\r\n--b\r\nContent-Type: text/html\r\nContent-Location:"
                ." http://a.test/\r\n\r\n<p>x\r\n--b\r\nContent-Type: video/mp4\r\nContent-Transfer-Encoding: base64\r\n\r\n",
        );
        for ($n = 0; $n < 100; ++$n) {
            fwrite($handle, chunk_split(base64_encode(random_bytes(570_000)), 76, "\r\n"));
        }
        fwrite(
            $handle,
            "--b\r\nContent-Type: audio/x\r\nContent-Transfer-Encoding: binary\r\n\r\n".str_repeat("\1", 30_000_000)."\r\n--b--\r\n",
        );
        fclose($handle);
        exec(
            'php -d memory_limit=64M '.escapeshellarg(\dirname(__DIR__, 2).'/bin/ypomna').' mhtml:list --json '.escapeshellarg($path),
            $out,
            $status,
        );
        self::assertSame(0, $status);
        self::assertStringContainsString('"bytes":57000000', $out[1]);
        self::assertStringContainsString('"bytes":30000000', $out[2]);
    }

    private function list(string $bytes): Told
    {
        return Told::by(new MhtmlListCommand(), ['file' => $this->folder->file('x.mht', $bytes)]);
    }

    private function check(string $bytes): Told
    {
        return Told::by(new MhtmlCheckCommand(), ['file' => [$this->folder->file('x.mht', $bytes)]]);
    }

    /**
     * @param list<string> $parts header and body of each
     */
    private static function related(array $parts, string $fields = ''): string
    {
        return "MIME-Version: 1.0\r\n{$fields}Content-Type: multipart/related; boundary=\"b\"\r\n\r\n"
            .implode('', array_map(static fn (string $part): string => "--b\r\n{$part}\r\n", $parts))."--b--\r\n";
    }
}
