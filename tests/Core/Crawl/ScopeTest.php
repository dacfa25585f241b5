<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Crawl;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\Reach;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Crawl\Scope;
use Ypomna\Core\Crawl\Traps;

final class ScopeTest extends TestCase
{
    #[TestWith([Reach::Host, 'https://www.board.test/x', Ruling::Taken])]
    #[TestWith([Reach::Host, 'http://cdn.board.test/x', Ruling::OtherHost])]
    #[TestWith([Reach::Host, 'http://board.test:8080/x', Ruling::Taken])]
    #[TestWith([Reach::Host, 'http://notboard.test/x', Ruling::OtherHost])]
    #[TestWith([Reach::Below, 'http://cdn.board.test/x', Ruling::Taken])]
    #[TestWith([Reach::Below, 'http://test/x', Ruling::OtherHost])]
    #[TestWith([Reach::Below, 'http://notboard.test/x', Ruling::OtherHost])]
    #[TestWith([Reach::Folder, 'http://board.test/reports/2024/a', Ruling::Taken])]
    #[TestWith([Reach::Folder, 'http://board.test/reports-old/a', Ruling::OtherFolder])]
    #[TestWith([Reach::Folder, 'http://board.test/', Ruling::OtherFolder])]
    #[TestWith([Reach::Folder, 'http://else.test/reports/', Ruling::OtherHost])]
    #[TestWith([Reach::Host, 'ftp://board.test/x', Ruling::NotWeb])]
    public function testHowFarASiteReaches(Reach $reach, string $url, Ruling $ruling): void
    {
        self::assertSame($ruling, (new Scope($reach, ['http://board.test/reports/index']))->rules(Url::parse($url), 1));
    }

    public function testDepthAndPatterns(): void
    {
        $scope = new Scope(Reach::Host, ['http://a.test/'], 2, [new AddressPattern('/press/')], [new AddressPattern('print=')]);
        self::assertSame(Ruling::Taken, $scope->rules(Url::parse('http://a.test/'), 0), 'A first page needs to fit nothing.');
        self::assertSame(Ruling::NotIncluded, $scope->rules(Url::parse('http://a.test/'), 1));
        self::assertSame(Ruling::Taken, $scope->rules(Url::parse('http://a.test/press/a'), 2));
        self::assertSame(Ruling::TooDeep, $scope->rules(Url::parse('http://a.test/press/a'), 3));
        self::assertSame(Ruling::Excluded, $scope->rules(Url::parse('http://a.test/press/a?print=1'), 1));
    }

    #[TestWith(['/a/b/c', false])]
    #[TestWith(['/a/a/b', false])]
    #[TestWith(['/a/a/a/', true])]
    #[TestWith(['/x/a/b/a/b/a/b', true])]
    #[TestWith(['/a/b/a/b/c', false])]
    #[TestWith(['/2024/11/11/11/notice', false])]
    #[TestWith(['/1/1/1/1/1', false])]
    #[TestWith(['/a/b/c/d/e/f/g/h/i/j/k/l/m/n/o/p/q/r/s/t/u/v/w/x/y/z/A/B/C/D/E', true])]
    public function testPathsThatGoRound(string $path, bool $endless): void
    {
        self::assertSame($endless, Traps::isEndless(Url::parse('http://a.test'.$path)));
    }

    #[TestWith(['http://a.test/notice/17', 'a.test/notice/0'])]
    #[TestWith(['http://a.test/stern-door', null])]
    #[TestWith(['http://a.test/calendar/2031-07', 'a.test/calendar/0-0'])]
    #[TestWith(['http://a.test/?month=7&view=list', 'a.test/?month=0&view=list'])]
    #[TestWith(['http://a.test/room/0f3a9c1b7d2e4a68', 'a.test/room/*'])]
    #[TestWith(['http://a.test/x?s=9b2c1a7e-1111-4222-8333-0123456789ab', 'a.test/x?s=*'])]
    #[TestWith(['http://a.test/facade-of-the-harbour', null])]
    public function testWhatAddressesHaveInCommon(string $url, ?string $kind): void
    {
        self::assertSame($kind, Traps::kind(Url::parse($url)));
    }
}
