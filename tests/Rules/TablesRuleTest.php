<?php

declare(strict_types=1);

namespace Ypomna\Tests\Rules;

use PHPStan\Rules\Rule;
use PHPStan\Testing\RuleTestCase;
use Ypomna\Tests\Architecture\TablesRule;

/**
 * The rule finds tables of other rooms, and nothing else.
 *
 * @extends RuleTestCase<TablesRule>
 */
final class TablesRuleTest extends RuleTestCase
{
    public function testTablesOfOtherRoomsAreFound(): void
    {
        $said = static fn (string $table, string $owner): string =>
            "The table {$table} belongs to the room {$owner}; Compare asks it by that room’s classes.";
        $this->analyse([\dirname(__DIR__).'/Architecture/foreign-tables.php.inc'], [
            [$said('capture', 'Catalogue'), 18],
            [$said('address', 'Catalogue'), 20],
            [$said('record', 'Catalogue'), 22],
            [$said('watch', 'Watch'), 23],
            [$said('warc_file', 'Catalogue'), 24],
            [$said('live_check', 'Liveness'), 27],
        ]);
    }

    protected function getRule(): Rule
    {
        return new TablesRule();
    }
}
