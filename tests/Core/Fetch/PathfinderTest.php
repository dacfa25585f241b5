<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fetch\AddressGuard;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Pathfinder;
use Ypomna\Core\Fetch\Route;
use Ypomna\Tests\Support\PlayedNames;
use Ypomna\Tests\Support\PlayedWeb;

final class PathfinderTest extends TestCase
{
    private PlayedWeb $web;

    protected function setUp(): void
    {
        $this->web = new PlayedWeb();
    }

    public function testTheFirstAddressThatAnswersIsTaken(): void
    {
        $this->web->refuses('192.88.98.1');
        [, $ip] = $this->finder(['a.example' => ['192.88.98.1', '8.8.4.4']])->open('a.example', 80, false);
        self::assertSame('8.8.4.4', $ip);
    }

    public function testANameThatLeadsIntoAClosedNetworkIsNotConnectedTo(): void
    {
        $this->expectReason(
            FailureReason::Guarded, fn () => $this->finder(['a.example' => ['10.0.0.1', '::1']])->open('a.example', 80, false),
        );
        self::assertSame([], $this->web->connections);
    }

    public function testAnAddressGivenAsNumbersIsJudgedToo(): void
    {
        foreach (['127.0.0.1', '[::1]', '[::ffff:127.0.0.1]'] as $host) {
            $this->expectReason(FailureReason::Guarded, fn () => $this->finder([])->open($host, 80, false));
        }
        self::assertSame([], $this->web->connections);
    }

    public function testANameIsAskedForOnceSoItCannotChangeInBetween(): void
    {
        $names = new PlayedNames(['a.example' => ['8.8.4.4']]);
        $finder = new Pathfinder($names, $this->web, new AddressGuard());
        $finder->open('a.example', 80, false);
        $names->become(['a.example' => ['127.0.0.1']]);
        $finder->open('a.example', 80, false);
        self::assertSame(['8.8.4.4:80', '8.8.4.4:80'], $this->web->connections);
        self::assertCount(1, $finder->answers());
    }

    public function testNoSuchNameAndNoAnswerAreToldApart(): void
    {
        $this->expectReason(FailureReason::NoHost, fn () => $this->finder([])->open('gone.example', 80, false));
        $this->expectReason(FailureReason::Dns, fn () => $this->finder(['mute.example' => null])->open('mute.example', 80, false));
    }

    public function testAGivenRouteWinsAndMayLeadAnywhere(): void
    {
        $finder = new Pathfinder(
            new PlayedNames([]),
            $this->web,
            new AddressGuard(),
            [Route::parse('*.lantern.test:443:127.0.0.1:8443'), Route::parse('x.test:80:[::1]')],
        );
        $finder->open('cdn.lantern.test', 443, true);
        $finder->open('x.test', 80, false);
        self::assertSame(['127.0.0.1:8443', '::1:80'], $this->web->connections);
        $this->expectReason(FailureReason::NoHost, static fn () => $finder->open('cdn.lantern.test', 80, false));
    }

    public function testARouteThatCannotBeReadIsRefused(): void
    {
        foreach (['', 'a:b:c', 'host:80:nowhere', 'host:80', 'host:999999:127.0.0.1'] as $text) {
            try {
                Route::parse($text);
                self::fail($text.' was read as a route.');
            } catch (\InvalidArgumentException $e) {
                self::assertStringContainsString('HOST:PORT:ADDRESS', $e->getMessage());
            }
        }
    }

    /**
     * @param array<string, list<string>|null> $names
     */
    private function finder(array $names): Pathfinder
    {
        return new Pathfinder(new PlayedNames($names), $this->web, new AddressGuard());
    }

    private function expectReason(FailureReason $reason, \Closure $act): void
    {
        try {
            $act();
            self::fail('Nothing failed.');
        } catch (FetchFailed $e) {
            self::assertSame($reason, $e->reason);
        }
    }
}
