<?php

declare(strict_types=1);

namespace Ypomna\Tests\Architecture;

use PHPat\Selector\Selector;
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
            ->classes(Selector::inNamespace('Ypomna\App'), Selector::inNamespace('Ypomna\Standin'), Selector::inNamespace('Symfony'), Selector::inNamespace('Doctrine'), Selector::inNamespace('Twig'), Selector::inNamespace('Revolt'), Selector::inNamespace('Psr'))
            ->because('the rules of the job must work without the application, a database, a network or a clock');
    }

    public function testAddressesAndMessagesKnowNobody(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Ypomna\Core\Address'), Selector::inNamespace('Ypomna\Core\Http'), Selector::inNamespace('Ypomna\Core\Fixity'))
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Ypomna\Core\Warc'), Selector::inNamespace('Ypomna\Core\Mhtml'), Selector::inNamespace('Ypomna\Core\Fetch'), Selector::inNamespace('Ypomna\Core\Page'), Selector::inNamespace('Ypomna\Core\Compare'), Selector::inNamespace('Ypomna\Core\Replay'))
            ->because('they are the ground that the other rooms stand on');
    }

    public function testFormatsDoNotFetch(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Ypomna\Core\Warc'), Selector::inNamespace('Ypomna\Core\Mhtml'), Selector::inNamespace('Ypomna\Core\Page'), Selector::inNamespace('Ypomna\Core\Compare'), Selector::inNamespace('Ypomna\Core\Replay'))
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Ypomna\Core\Fetch'))
            ->because('what is read and compared lies in the archive already');
    }

    public function testReplayReachesNothingOutside(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Ypomna\App\Replay'))
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Ypomna\App\Capture'), Selector::inNamespace('Ypomna\Core\Fetch'))
            ->because('nothing is ever fetched while a page is read');
    }

    public function testTheCatalogueKnowsNoScreens(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Ypomna\App\Catalogue'))
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Ypomna\App\Capture'), Selector::inNamespace('Ypomna\App\Replay'), Selector::inNamespace('Ypomna\App\Compare'), Selector::inNamespace('Ypomna\App\Ui'))
            ->because('the other rooms stand on it');
    }

    public function testInternalsStayInTheirRoom(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::AllOf(Selector::inNamespace('Ypomna'), Selector::Not(Selector::inNamespace('Ypomna\Core\Warc'))))
            ->shouldNot()->dependOn()
            ->classes(Selector::classname('Ypomna\Core\Warc\DigestSet'), Selector::classname('Ypomna\Core\Warc\Input'))
            ->because('they are the inside of the WARC room');
    }
}
