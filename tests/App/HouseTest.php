<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Twig\Environment;
use Twig\Loader\FilesystemLoader;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureMaintenance;
use Ypomna\App\Catalogue\CatalogueTables;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Catalogue\GivenCodes;
use Ypomna\App\Catalogue\HistorySummaries;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Catalogue\MadeUpHoldings;
use Ypomna\App\Catalogue\Originals;
use Ypomna\App\Catalogue\PagesOfFile;
use Ypomna\App\Catalogue\RecordRepository;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Architecture\Layers;

/** What the house is built by, and no analysis of its code can see. */
final class HouseTest extends AppTestCase
{
    /** They work on all holdings, and no screen may use them (RoomsTest). */
    private const FOR_WORKERS = [
        CaptureLimits::class, CaptureMaintenance::class, CatalogueTables::class,
        FileRepository::class, GivenCodes::class, HistorySummaries::class,
        Indexer::class, MadeUpHoldings::class, Originals::class, PagesOfFile::class, RecordRepository::class,
    ];
    /** Who has one of these was told it by somebody who had asked for a viewer. */
    private const TOLD = [Viewer::class, Capture::class, ReadCapture::class, Address::class];
    /** They answer yes or no about a place that the asker was told. */
    private const HARMLESS = [
        'ReadCaptures::isPage', 'RecordFinder::best', 'JoinedAddresses::part', 'SeenRecords::mayGoAlong', 'SeenAddresses::reset',
    ];

    public function testEveryTableHasItsRoomAndAPrimaryKey(): void
    {
        $database = self::service(Connection::class);
        $tables = $database->fetchFirstColumn(
            "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' AND"
                ." table_name <> 'migration'",
        );
        sort($tables);
        $owned = array_merge(...array_values(Layers::TABLES));
        sort($owned);
        self::assertSame($owned, $tables);
        self::assertSame(
            [],
            $database->fetchFirstColumn(
                "SELECT t.table_name FROM information_schema.tables t WHERE t.table_schema = DATABASE() AND t.table_type = 'BASE TABLE'"
                    .' AND NOT EXISTS (SELECT 1 FROM information_schema.table_constraints c WHERE c.table_schema = t.table_schema AND'
                        ." c.table_name = t.table_name AND c.constraint_type = 'PRIMARY KEY')",
            ),
        );
    }

    public function testWhoeverReadsTheHoldingsSaysForWhom(): void
    {
        $open = [];
        $looked = 0;
        foreach (new \GlobIterator(Settings::program().'/src/Catalogue/*.php', \FilesystemIterator::CURRENT_AS_PATHNAME) as $file) {
            $class = 'Ypomna\App\Catalogue\\'.basename((string) $file, '.php');
            self::assertTrue(class_exists($class) || interface_exists($class) || enum_exists($class), $class);
            /** @var class-string $class */
            $reflected = new \ReflectionClass($class);
            if (\in_array($class, self::FOR_WORKERS, true)
                || [] === array_intersect(self::types($reflected->getConstructor()), [Connection::class, EntityManagerInterface::class])) {
                continue;
            }
            foreach ($reflected->getMethods(\ReflectionMethod::IS_PUBLIC) as $method) {
                $name = $reflected->getShortName().'::'.$method->getName();
                ++$looked;
                if (!$method->isConstructor() && !\in_array($name, self::HARMLESS, true)
                    && [] === array_intersect(self::types($method), self::TOLD)) {
                    $open[] = $name;
                }
            }
        }
        self::assertGreaterThan(30, $looked);
        self::assertSame([], $open);
    }

    /** @return list<string> */
    private static function types(?\ReflectionMethod $method): array
    {
        return array_values(array_map(
            static fn (\ReflectionParameter $one): string => ltrim((string) $one->getType(), '?'), $method?->getParameters() ?? [],
        ));
    }

    public function testEveryTemplateCanBeRead(): void
    {
        $twig = self::service(Environment::class);
        $folder = \dirname(__DIR__, 2).'/templates';
        $loader = new FilesystemLoader($folder);
        $read = 0;
        foreach (new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($folder, \FilesystemIterator::SKIP_DOTS)) as $file) {
            self::assertInstanceOf(\SplFileInfo::class, $file);
            if ('twig' === $file->getExtension()) {
                $source = $loader->getSourceContext(substr($file->getPathname(), \strlen($folder) + 1));
                $twig->compile($twig->parse($twig->tokenize($source)));
                ++$read;
            }
        }
        self::assertGreaterThan(100, $read);
    }
}
