<?php

declare(strict_types=1);

namespace Ypomna\Tests\Architecture;

use PHPat\Selector\Selector;
use PHPat\Selector\SelectorInterface;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;

/** Which part of the code may know which: see ARCHITECTURE.md. Run by PHPStan. */
final class RoomsTest
{
    public function testCoreKnowsNeitherApplicationNorFramework(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Ypomna\Core'))
            ->shouldNot()->dependOn()
            ->classes(
                Selector::inNamespace('Ypomna\App'), Selector::inNamespace('Ypomna\Standin'), Selector::inNamespace('Symfony'),
                Selector::inNamespace('Doctrine'), Selector::inNamespace('Twig'), Selector::inNamespace('Revolt'),
                Selector::inNamespace('Psr'),
            )
            ->because('the rules of the job must work without the application, a database, a network or a clock');
    }

    public function testAddressesAndMessagesKnowNobody(): Rule
    {
        return PHPat::rule()
            ->classes(
                Selector::inNamespace('Ypomna\Core\Address'),
                Selector::inNamespace('Ypomna\Core\Http'),
                Selector::inNamespace('Ypomna\Core\Fixity'),
            )
            ->shouldNot()->dependOn()
            ->classes(
                Selector::inNamespace('Ypomna\Core\Warc'), Selector::inNamespace('Ypomna\Core\Mhtml'),
                Selector::inNamespace('Ypomna\Core\Fetch'), Selector::inNamespace('Ypomna\Core\Page'),
                Selector::inNamespace('Ypomna\Core\Compare'), Selector::inNamespace('Ypomna\Core\Replay'),
            )
            ->because('they are the ground that the other rooms stand on');
    }

    public function testFormatsDoNotFetch(): Rule
    {
        return PHPat::rule()
            ->classes(
                Selector::inNamespace('Ypomna\Core\Warc'),
                Selector::inNamespace('Ypomna\Core\Mhtml'),
                Selector::inNamespace('Ypomna\Core\Page'),
                Selector::inNamespace('Ypomna\Core\Compare'),
                Selector::inNamespace('Ypomna\Core\Replay'),
            )
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Ypomna\Core\Fetch'))
            ->because('what is read and compared lies in the archive already');
    }

    /** @return iterable<string, Rule> */
    public function testRoomsKnowOnlyThoseBelow(): iterable
    {
        $rooms = array_keys(Layers::ROOMS);
        foreach ($rooms as $n => $room) {
            $above = array_map(self::room(...), \array_slice($rooms, $n + 1));
            if ([] !== $above) {
                yield $room => PHPat::rule()
                    ->classes(self::room($room))
                    ->shouldNot()->dependOn()
                    ->classes(...$above)
                    ->because('rooms stand on those below them, and tell those above by events');
            }
        }
    }

    /** @return iterable<string, Rule> */
    public function testDoorsBelongToTheirRoom(): iterable
    {
        foreach (array_keys(Layers::ROOMS) as $room) {
            $doors = array_map(
                static fn (string $door): SelectorInterface => Selector::inNamespace(Layers::APPLICATION.'\\'.$room.'\\'.$door),
                Layers::DOORS,
            );
            yield $room => PHPat::rule()
                ->classes(Selector::AllOf(
                    Selector::inNamespace(Layers::APPLICATION), Selector::Not(self::room($room)), Selector::Not(self::root()),
                ))
                ->shouldNot()->dependOn()
                ->classes(...$doors)
                ->because('what a screen or a command shows is nothing for others to build on');
        }
    }

    public function testScreensReadByThoseWhoAskForAViewer(): Rule
    {
        $byPassing = array_map(
            static fn (string $class): SelectorInterface => Selector::classname(Layers::APPLICATION.'\\Catalogue\\'.$class),
            ['CaptureMaintenance', 'FileRepository', 'RecordRepository', 'CatalogueTables', 'RecordFinder'],
        );

        return PHPat::rule()
            ->classes(Selector::classname('/^'.preg_quote(Layers::APPLICATION, '/').'\\\\[A-Za-z]+\\\\(?:Http|Twig)\\\\/', true))
            ->shouldNot()->dependOn()
            ->classes(
                Selector::inNamespace('Doctrine\DBAL'),
                Selector::inNamespace('Doctrine\ORM'),
                Selector::inNamespace('Doctrine\Persistence'),
                ...$byPassing,
            )
            ->because('what is shown is asked of those who are told who looks at it');
    }

    public function testEveryRoomHasItsPlace(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::AllOf(
                Selector::inNamespace(Layers::APPLICATION),
                Selector::Not(self::root()),
                ...array_map(static fn (string $room): SelectorInterface => Selector::Not(self::room($room)), array_keys(Layers::ROOMS)),
            ))
            ->shouldNot()->exist()
            ->because('a room has to be entered in the list of layers');
    }

    public function testReplayReachesNothingOutside(): Rule
    {
        return PHPat::rule()
            ->classes(self::room('Replay'))
            ->shouldNot()->dependOn()
            ->classes(
                Selector::inNamespace('Ypomna\Core\Fetch'),
                ...array_map(
                    static fn (string $class): SelectorInterface => Selector::classname(Layers::APPLICATION.'\\Network\\'.$class),
                    ['WebAccess', 'StreamConnector', 'UdpResolver', 'ClientConnections', 'WebOptions'],
                ),
            )
            ->because('nothing is ever fetched while a page is read');
    }

    public function testInternalsStayInTheirRoom(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::AllOf(Selector::inNamespace('Ypomna'), Selector::Not(Selector::inNamespace('Ypomna\Core\Warc'))))
            ->shouldNot()->dependOn()
            ->classes(Selector::classname('Ypomna\Core\Warc\DigestSet'), Selector::classname('Ypomna\Core\Warc\Input'))
            ->because('they are the inside of the WARC room');
    }

    private static function room(string $room): SelectorInterface
    {
        return Selector::inNamespace(Layers::APPLICATION.'\\'.$room);
    }

    /** What stands in no room: the kernel, and what gathers the commands on files. */
    private static function root(): SelectorInterface
    {
        return Selector::classname('/^'.preg_quote(Layers::APPLICATION, '/').'\\\\[A-Za-z]+$/', true);
    }
}
