<?php

declare(strict_types=1);

namespace Ypomna\Tests\Rules;

use PHPStan\Rules\Rule;
use PHPStan\Testing\RuleTestCase;
use Ypomna\Tests\Architecture\EntitiesRule;

/**
 * The rule finds where another room's entity is asked for, and nothing else.
 *
 * @extends RuleTestCase<EntitiesRule>
 */
final class EntitiesRuleTest extends RuleTestCase
{
    public function testEntitiesOfOtherRoomsAreAskedOfThem(): void
    {
        $this->analyse([\dirname(__DIR__).'/Architecture/foreign-entities.php.inc'], [
            ['Ypomna\App\Catalogue\Entity\Capture belongs to the room Catalogue; Compare asks it by that room’s classes.', 21],
        ]);
    }

    protected function getRule(): Rule
    {
        return new EntitiesRule();
    }
}
