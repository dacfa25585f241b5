<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Mhtml;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Mhtml\Archive;
use Ypomna\Core\Mhtml\CollectedPage;
use Ypomna\Core\Mhtml\CollectedPart;
use Ypomna\Core\Mhtml\Collection;
use Ypomna\Core\Mhtml\Entity;
use Ypomna\Core\Mhtml\MhtmlCheck;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Tests\Support\Folder;

final class CollectionTest extends TestCase
{
    public function testReferencesLeadToThePartsOfTheirOwnPage(): void
    {
        $html = '<base href="/d/"><link rel=stylesheet href="s.css"><img src="/p.png" srcset="/p.png 1x, http://cdn.test/q.png#x 2x"'
            .' onclick="go()"><a href="#here">a</a><a href="http://elsewhere.test/x">b</a><a'
                .' href="mailto:i@watch.test">c</a><script>alert(1)</script><p data-count="5" data-src="//cdn.test/q.png">';
        $page = static fn (string $picture): CollectedPage =>
            new CollectedPage('Notice <1>', 'http://lantern.test/a', new \DateTimeImmutable('2024-11-03T10:00:00Z'), [
                self::part('http://lantern.test/a', 'text/html; charset=utf-8', $html),
                self::part('http://lantern.test/d/s.css', 'text/css; charset=utf-8', 'p{background:url(../p.png)}'),
                self::part('http://lantern.test/p.png', 'image/png', $picture),
                self::part('http://cdn.test/q.png', 'image/png', 'the same'),
            ]);
        $file = implode(
            '',
            iterator_to_array(
                Collection::write('Two', new \DateTimeImmutable('2024-11-03T10:00:00Z'), 'seed', [$page('old'), $page('new')]), false,
            ),
        );
        self::assertSame(
            $file,
            implode(
                '',
                iterator_to_array(
                    Collection::write('Two', new \DateTimeImmutable('2024-11-03T10:00:00Z'), 'seed', [$page('old'), $page('new')]), false,
                ),
            ),
        );
        $folder = new Folder();
        $archive = MhtmlReader::read($folder->file('two.mhtml', $file));
        self::assertSame([], MhtmlCheck::run($archive));
        $bodies = [];
        foreach ($archive->parts as $part) {
            $bodies[$part->headers->contentId() ?? 'list'] = self::body($archive, $part);
        }
        self::assertCount(1 + 2 + 2 + 2 + 1, $bodies, 'What both share stands there once.');
        self::assertStringContainsString('Notice &lt;1&gt;', $bodies['list']);
        foreach (['1' => 'old', '2' => 'new'] as $n => $picture) {
            $id = (string) array_search($picture, $bodies, true);
            $document = array_values(array_filter(
                $bodies, static fn (string $name): bool => str_starts_with($name, 'page-'.$n.'-0@'), \ARRAY_FILTER_USE_KEY,
            ))[0];
            $style = array_values(array_filter(
                $bodies, static fn (string $name): bool => str_starts_with($name, 'page-'.$n.'-1@'), \ARRAY_FILTER_USE_KEY,
            ))[0];
            self::assertStringContainsString('src="cid:'.$id.'"', $document);
            self::assertStringContainsString('url("cid:'.$id.'")', $style);
            self::assertStringContainsString('srcset="cid:'.$id.' 1x, cid:'.array_search('the same', $bodies, true).'#x 2x"', $document);
            self::assertMatchesRegularExpression('/href="cid:page-'.$n.'-1@/', $document);
            foreach ([
                'href="#here"', 'href="http://elsewhere.test/x"', 'href="mailto:i@watch.test"', 'data-count="5"', 'data-src="cid:',
            ] as $kept) {
                self::assertStringContainsString($kept, $document);
            }
            self::assertStringNotContainsString('alert', $document);
            self::assertStringNotContainsString('onclick', $document);
        }
        $kept = implode(
            '',
            iterator_to_array(
                Collection::write('Two', new \DateTimeImmutable('2024-11-03T10:00:00Z'), 'seed', [$page('old')], true), false,
            ),
        );
        self::assertStringContainsString('alert(1)', $kept);
    }

    private static function part(string $url, string $type, string $body): CollectedPart
    {
        return new CollectedPart($url, $type, hash('sha256', $body), static fn (): array => str_split($body, 7));
    }

    private static function body(Archive $archive, Entity $part): string
    {
        return implode('', iterator_to_array($archive->body($part), false));
    }
}
