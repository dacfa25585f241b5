<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Makes the tree of a page as browsers do, whatever its markup (HTML Living Standard, section 13.2.6). Names of elements
 * are in lower case in all vocabularies; what is in a template stands in the template.
 *
 * Nodes, depth and attributes are bounded, so time and memory follow the size of the page.
 */
final class TreeBuilder
{
    private const SPACE = " \t\n\f\r";
    /** Tags and texts of a page; what comes behind them is not read. */
    private const MOST_TOKENS = 1_500_000;

    private readonly Planter $planter;
    private readonly Stack $stack;
    private Mode $mode = Mode::Initial;
    private Mode $modeBehindText = Mode::InBody;
    /** @var list<Mode> */
    private array $templates = [];
    private ?Open $head = null;
    private ?Open $form = null;
    private bool $framesetOk = true;
    private bool $quirks = false;
    private bool $skipNewline = false;

    private function __construct(private readonly Tokenizer $tokenizer)
    {
        $this->planter = new Planter();
        $this->stack = $this->planter->stack;
    }

    /** @param string $html UTF-8 */
    public static function tree(string $html): Tree
    {
        $html = str_replace(["\r\n", "\r"], "\n", str_starts_with($html, "\u{FEFF}") ? substr($html, 3) : $html);

        return (new self(new Tokenizer($html)))->build();
    }

    private function build(): Tree
    {
        for ($tokens = 0; $tokens < self::MOST_TOKENS && !$this->planter->isFull(); ++$tokens) {
            $foreign = $this->stack->isForeign();
            $this->tokenizer->foreign = $foreign;
            $token = $this->tokenizer->next();
            if (null === $token) {
                break;
            }
            if (TokenKind::Text === $token->kind) {
                $token = $this->prepared($token->text);
            } else {
                $this->skipNewline = false;
            }
            if (null !== $token) {
                $foreign && $this->isForeign($token) ? $this->inForeign($token) : $this->process($token);
            }
        }
        while (null !== $this->stack->lastPlace('template')) {
            $this->endTemplate();
        }
        // A page without anything has its three elements all the same.
        if (\in_array($this->mode, [Mode::Initial, Mode::BeforeHtml, Mode::BeforeHead, Mode::InHead, Mode::AfterHead], true)) {
            $this->process(new Token(TokenKind::Start, 'body'));
        }
        $this->planter->settle();

        return $this->planter->tree;
    }

    private function prepared(string $text): ?Token
    {
        if ($this->skipNewline) {
            $this->skipNewline = false;
            $text = str_starts_with($text, "\n") ? substr($text, 1) : $text;
        }
        $text = str_replace("\0", '', $text);

        return '' === $text ? null : new Token(TokenKind::Text, '', $text);
    }

    private function process(Token $token): void
    {
        match ($this->mode) {
            Mode::Initial => $this->initial($token),
            Mode::BeforeHtml => $this->beforeHtml($token),
            Mode::BeforeHead => $this->beforeHead($token),
            Mode::InHead => $this->inHead($token),
            Mode::AfterHead => $this->afterHead($token),
            Mode::InBody => $this->inBody($token),
            Mode::Text => $this->inText($token),
            Mode::InTable => $this->inTable($token),
            Mode::InCaption => $this->inCaption($token),
            Mode::InColumnGroup => $this->inColumnGroup($token),
            Mode::InTableBody => $this->inTableBody($token),
            Mode::InRow => $this->inRow($token),
            Mode::InCell => $this->inCell($token),
            Mode::InTemplate => $this->inTemplate($token),
            Mode::AfterBody => $this->afterBody($token),
            Mode::InFrameset => $this->inFrameset($token),
            Mode::AfterFrameset => $this->afterFrameset($token),
        };
    }

    private function again(Mode $mode, Token $token): void
    {
        $this->mode = $mode;
        $this->process($token);
    }

    /**
     * Parts the white space at the beginning of a text from the rest.
     *
     * @return array{string, Token|null}
     */
    private static function parted(Token $token): array
    {
        $space = strspn($token->text, self::SPACE);
        $rest = substr($token->text, $space);

        return [substr($token->text, 0, $space), '' === $rest ? null : new Token(TokenKind::Text, '', $rest)];
    }

    /** Plants the white space at the beginning of a text, and gives the rest. */
    private function behindSpace(Token $token): ?Token
    {
        if (TokenKind::Text !== $token->kind) {
            return $token;
        }
        [$space, $rest] = self::parted($token);
        if ('' !== $space) {
            $this->planter->text($space);
        }

        return $rest;
    }

    private function initial(Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            $this->quirks = 'html' !== $token->name || 1 === preg_match('~^-(?://(?:ietf//dtd html|w3c//dtd (?:html (?:3|4\.0 (?:transitional|frameset)|experimental)|w3 html)|w3o//|netscape|microsoft|webtechs|spyglass|sq//|softquad|sun microsystems|o\'reilly|advasoft|as//|metrius)|/w3c/dtd html 4\.0 transitional/en)~', $token->text);
            $this->mode = Mode::BeforeHtml;

            return;
        }
        if (TokenKind::Text === $token->kind) {
            [, $token] = self::parted($token);
        }
        if (null !== $token) {
            $this->quirks = true;
            $this->again(Mode::BeforeHtml, $token);
        }
    }

    private function beforeHtml(Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            [, $token] = self::parted($token);
        }
        if (null === $token || TokenKind::Doctype === $token->kind || (TokenKind::End === $token->kind && !isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name]))) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $this->planter->open($token);
            $this->mode = Mode::BeforeHead;

            return;
        }
        $this->planter->open(new Token(TokenKind::Start, 'html'));
        $this->again(Mode::BeforeHead, $token);
    }

    private function beforeHead(Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            [, $token] = self::parted($token);
        }
        if (null === $token || TokenKind::Doctype === $token->kind || (TokenKind::End === $token->kind && !isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name]))) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'html' === $token->name) {
            $this->moreOfHtml($token);

            return;
        }
        $isHead = TokenKind::Start === $token->kind && 'head' === $token->name;
        $this->head = $this->planter->open($isHead ? $token : new Token(TokenKind::Start, 'head'));
        $this->mode = Mode::InHead;
        if (!$isHead) {
            $this->process($token);
        }
    }

    private function moreOfHtml(Token $token): void
    {
        if (null === $this->stack->lastPlace('template')) {
            $this->planter->tree->addAttributes($this->stack->at(0)->node, $token->attributes);
        }
    }

    private function inHead(Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        $token = $this->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind) {
            if ('html' === $token->name) {
                $this->moreOfHtml($token);

                return;
            }
            if (isset(Kinds::IN_HEAD[$token->name]) || 'noscript' === $token->name) {
                $this->headElement($token);

                return;
            }
            if ('head' === $token->name) {
                return;
            }
        }
        if (TokenKind::End === $token->kind) {
            if ('template' === $token->name) {
                $this->endTemplate();

                return;
            }
            if (!isset(['head' => 1, 'body' => 1, 'html' => 1, 'br' => 1][$token->name])) {
                return;
            }
        }
        $this->stack->pop();
        $this->mode = Mode::AfterHead;
        if (TokenKind::End !== $token->kind || 'head' !== $token->name) {
            $this->process($token);
        }
    }

    private function headElement(Token $token): void
    {
        if ('template' === $token->name) {
            $this->planter->open($token);
            $this->planter->mark();
            $this->framesetOk = false;
            $this->mode = Mode::InTemplate;
            $this->templates[] = Mode::InTemplate;
        } elseif (isset(Kinds::RAW[$token->name])) {
            $this->raw($token);
        } else {
            $this->planter->put($token);
        }
    }

    private function raw(Token $token): void
    {
        $this->planter->open($token);
        $this->tokenizer->readRaw($token->name);
        $this->modeBehindText = $this->mode;
        $this->mode = Mode::Text;
        $this->skipNewline = 'textarea' === $token->name;
    }

    private function endTemplate(): void
    {
        if (null === $this->stack->lastPlace('template')) {
            return;
        }
        $this->stack->popUntil(['template' => 1]);
        $this->planter->clearToMarker();
        array_pop($this->templates);
        $this->resetMode();
    }

    private function afterHead(Token $token): void
    {
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        $token = $this->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind) {
            if ('html' === $token->name) {
                $this->moreOfHtml($token);

                return;
            }
            if ('body' === $token->name || 'frameset' === $token->name) {
                $this->planter->open($token);
                $this->framesetOk = $this->framesetOk && 'body' !== $token->name;
                $this->mode = 'body' === $token->name ? Mode::InBody : Mode::InFrameset;

                return;
            }
            if (isset(Kinds::IN_HEAD[$token->name]) && null !== $this->head) {
                $head = $this->head;
                $this->stack->push($head);
                $this->headElement($token);
                $this->stack->remove($head);

                return;
            }
            if ('head' === $token->name) {
                return;
            }
        }
        if (TokenKind::End === $token->kind && !isset(['body' => 1, 'html' => 1, 'br' => 1][$token->name])) {
            if ('template' === $token->name) {
                $this->endTemplate();
            }

            return;
        }
        $this->planter->open(new Token(TokenKind::Start, 'body'));
        $this->again(Mode::InBody, $token);
    }

    private function inText(Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            $this->planter->text($token->text);
        } else {
            $this->stack->pop();
            $this->mode = $this->modeBehindText;
        }
    }

    private function inBody(Token $token): void
    {
        match ($token->kind) {
            TokenKind::Doctype => null,
            TokenKind::Text => $this->textInBody($token->text),
            TokenKind::Start => $this->startInBody($token),
            TokenKind::End => $this->endInBody($token),
        };
    }

    private function textInBody(string $text): void
    {
        $this->planter->reconstruct();
        $this->planter->text($text);
        $this->framesetOk = $this->framesetOk && \strlen($text) === strspn($text, self::SPACE);
    }

    private function startInBody(Token $token): void
    {
        match ($token->name) {
            'p', 'div', 'ul', 'ol', 'section', 'article', 'header', 'footer', 'nav', 'main', 'aside', 'address', 'blockquote', 'center', 'details', 'dialog', 'dir', 'dl', 'fieldset', 'figcaption', 'figure', 'hgroup', 'listing', 'menu',
            'pre', 'search', 'summary' => $this->block($token),
            'a', 'b', 'big', 'code', 'em', 'font', 'i', 'nobr', 's', 'small', 'strike', 'strong', 'tt', 'u' => $this->formatting($token),
            'li', 'dd', 'dt' => $this->item($token),
            'img', 'br', 'input', 'area', 'embed', 'keygen', 'wbr' => $this->void($token),
            'h1', 'h2', 'h3', 'h4', 'h5', 'h6' => $this->heading($token),
            'table' => $this->table($token),
            'base', 'basefont', 'bgsound', 'link', 'meta', 'noframes', 'script', 'style', 'template', 'title' => $this->headElement($token),
            'textarea', 'xmp', 'iframe', 'noembed', 'noscript' => $this->rawInBody($token),
            'form' => $this->startForm($token),
            'button' => $this->button($token),
            'select' => $this->select($token),
            'option', 'optgroup' => $this->option($token),
            'hr' => $this->rule($token),
            'param', 'source', 'track' => $this->planter->put($token),
            'svg', 'math' => $this->foreign($token),
            'rb', 'rtc', 'rp', 'rt' => $this->ruby($token),
            'applet', 'marquee', 'object' => $this->marked($token),
            'image' => $this->startInBody(new Token(TokenKind::Start, 'img', '', $token->attributes)),
            'html' => $this->moreOfHtml($token),
            'body' => $this->moreOfBody($token),
            'frameset' => $this->framesetInBody($token),
            'plaintext' => $this->plaintext($token),
            'caption', 'col', 'colgroup', 'tbody', 'td', 'tfoot', 'th', 'thead', 'tr', 'frame', 'head' => null,
            default => $this->ordinary($token),
        };
    }

    private function moreOfBody(Token $token): void
    {
        if ($this->stack->count() > 1 && $this->stack->at(1)->isHtml('body') && null === $this->stack->lastPlace('template')) {
            $this->framesetOk = false;
            $this->planter->tree->addAttributes($this->stack->at(1)->node, $token->attributes);
        }
    }

    private function framesetInBody(Token $token): void
    {
        if (!$this->framesetOk || $this->stack->count() < 2 || !$this->stack->at(1)->isHtml('body')) {
            return;
        }
        $this->planter->settle();
        $this->planter->tree->remove($this->stack->at(1)->node);
        $this->stack->cut(1);
        $this->planter->open($token);
        $this->mode = Mode::InFrameset;
    }

    private function closeParagraph(): void
    {
        if ($this->stack->has('p', Kinds::BUTTON_SCOPE)) {
            $this->stack->closeImplied('p');
            $this->stack->popUntil(['p' => 1]);
        }
    }

    private function block(Token $token): void
    {
        $this->closeParagraph();
        $this->planter->open($token);
        if ('pre' === $token->name || 'listing' === $token->name) {
            $this->skipNewline = true;
            $this->framesetOk = false;
        }
    }

    private function heading(Token $token): void
    {
        $this->closeParagraph();
        if (Vocabulary::Html === $this->stack->top()->vocabulary && isset(Kinds::HEADINGS[$this->stack->top()->name])) {
            $this->stack->pop();
        }
        $this->planter->open($token);
    }

    private function startForm(Token $token): void
    {
        $inTemplate = null !== $this->stack->lastPlace('template');
        if (null !== $this->form && !$inTemplate) {
            return;
        }
        $this->closeParagraph();
        $form = $this->planter->open($token);
        $this->form = $inTemplate ? $this->form : $form;
    }

    private function item(Token $token): void
    {
        $this->framesetOk = false;
        $alike = 'li' === $token->name ? ['li' => 1] : ['dd' => 1, 'dt' => 1];
        for ($i = $this->stack->count() - 1; $i >= 0; --$i) {
            $one = $this->stack->at($i);
            if (Vocabulary::Html === $one->vocabulary && isset($alike[$one->name])) {
                $this->stack->closeImplied($one->name);
                $this->stack->popUntil([$one->name => 1]);
                break;
            }
            if (Kinds::isSpecial($one) && !isset(['address' => 1, 'div' => 1, 'p' => 1][$one->name])) {
                break;
            }
        }
        $this->block($token);
    }

    private function plaintext(Token $token): void
    {
        $this->block($token);
        $this->tokenizer->readRaw('plaintext');
    }

    private function button(Token $token): void
    {
        if ($this->stack->has('button')) {
            $this->stack->closeImplied();
            $this->stack->popUntil(['button' => 1]);
        }
        $this->ordinary($token);
        $this->framesetOk = false;
    }

    private function select(Token $token): void
    {
        if ($this->stack->has('select')) {
            $this->stack->popUntil(['select' => 1]);

            return;
        }
        $this->ordinary($token);
        $this->framesetOk = false;
    }

    private function option(Token $token): void
    {
        if ($this->stack->has('select', ['html' => 1, 'table' => 1, 'template' => 1])) {
            $this->stack->closeImplied('option' === $token->name ? 'optgroup' : '');
        } elseif ($this->stack->top()->isHtml('option')) {
            $this->stack->pop();
        }
        $this->ordinary($token);
    }

    private function formatting(Token $token): void
    {
        $open = 'a' === $token->name ? $this->planter->formattingOf('a') : null;
        if (null !== $open) {
            $this->planter->adopt('a');
            $this->planter->unformat($open);
            $this->stack->remove($open);
        }
        $this->planter->reconstruct();
        if ('nobr' === $token->name && $this->stack->has('nobr')) {
            $this->planter->adopt('nobr');
            $this->planter->reconstruct();
        }
        $element = $this->planter->open($token);
        if ($this->stack->top() === $element) {
            $this->planter->format($element);
        }
    }

    private function marked(Token $token): void
    {
        $this->ordinary($token);
        $this->planter->mark();
        $this->framesetOk = false;
    }

    private function table(Token $token): void
    {
        if (!$this->quirks) {
            $this->closeParagraph();
        }
        $this->planter->open($token);
        $this->framesetOk = false;
        $this->mode = Mode::InTable;
    }

    private function rule(Token $token): void
    {
        $this->closeParagraph();
        if ($this->stack->has('select', Kinds::TABLE_SCOPE)) {
            $this->stack->closeImplied();
        }
        $this->planter->put($token);
        $this->framesetOk = false;
    }

    private function void(Token $token): void
    {
        if ('input' === $token->name && $this->stack->has('select', Kinds::TABLE_SCOPE)) {
            $this->stack->popUntil(['select' => 1]);
        }
        $this->planter->reconstruct();
        $this->planter->put($token);
        $hidden = 'input' === $token->name && 'hidden' === strtolower($token->attributes['type'] ?? '');
        $this->framesetOk = $this->framesetOk && $hidden;
    }

    private function rawInBody(Token $token): void
    {
        if ('xmp' === $token->name) {
            $this->closeParagraph();
            $this->planter->reconstruct();
        }
        $this->framesetOk = $this->framesetOk && !isset(['xmp' => 1, 'iframe' => 1, 'textarea' => 1][$token->name]);
        $this->raw($token);
    }

    private function ruby(Token $token): void
    {
        if ($this->stack->has('ruby')) {
            $this->stack->closeImplied('rb' === $token->name || 'rtc' === $token->name ? '' : 'rtc');
        }
        $this->planter->open($token);
    }

    private function foreign(Token $token): void
    {
        $this->planter->reconstruct();
        $vocabulary = 'svg' === $token->name ? Vocabulary::Svg : Vocabulary::Math;
        $token->closesItself ? $this->planter->put($token, $vocabulary) : $this->planter->open($token, $vocabulary);
    }

    private function ordinary(Token $token): void
    {
        $this->planter->reconstruct();
        $this->planter->open($token);
    }

    private function endInBody(Token $token): void
    {
        $name = $token->name;
        if ('template' === $name) {
            $this->endTemplate();
        } elseif ('body' === $name || 'html' === $name) {
            if ($this->stack->has('body')) {
                $this->mode = Mode::AfterBody;
            }
        } elseif ('form' === $name) {
            $this->endForm();
        } elseif ('p' === $name) {
            if (!$this->stack->has('p', Kinds::BUTTON_SCOPE)) {
                $this->planter->open(new Token(TokenKind::Start, 'p'));
            }
            $this->closeParagraph();
        } elseif ('br' === $name) {
            $this->void(new Token(TokenKind::Start, 'br'));
        } elseif ('li' === $name || 'dd' === $name || 'dt' === $name) {
            $this->close($name, [$name => 1], 'li' === $name ? Kinds::LIST_SCOPE : Kinds::SCOPE);
        } elseif (isset(Kinds::HEADINGS[$name])) {
            $this->close('', Kinds::HEADINGS, Kinds::SCOPE);
        } elseif (isset(Kinds::BLOCKS[$name])) {
            $this->close('', [$name => 1], 'select' === $name ? Kinds::TABLE_SCOPE : Kinds::SCOPE);
        } elseif ('applet' === $name || 'marquee' === $name || 'object' === $name) {
            if ($this->stack->has($name, array_diff_key(Kinds::SCOPE, [$name => 1]))) {
                $this->stack->popUntil([$name => 1]);
                $this->planter->clearToMarker();
            }
        } elseif (!isset(Kinds::FORMATTING[$name]) || !$this->planter->adopt($name)) {
            $this->endOrdinary($name);
        }
    }

    /**
     * @param array<string, int> $names
     * @param array<string, int> $bounds
     */
    private function close(string $but, array $names, array $bounds): void
    {
        // An element may be a bound of its own scope.
        if ($this->stack->hasAny($names, $bounds)) {
            $this->stack->closeImplied($but);
            $this->stack->popUntil($names);
        }
    }

    private function endForm(): void
    {
        if (null !== $this->stack->lastPlace('template')) {
            $this->close('', ['form' => 1], Kinds::SCOPE);

            return;
        }
        $form = $this->form;
        $this->form = null;
        if (null !== $form && null !== $this->stack->placeOf($form) && $this->stack->has('form')) {
            $this->stack->closeImplied();
            $this->planter->settle();
            $this->stack->remove($form);
        }
    }

    private function endOrdinary(string $name): void
    {
        for ($i = $this->stack->count() - 1; $i > 0; --$i) {
            $one = $this->stack->at($i);
            if ($one->isHtml($name)) {
                $this->stack->closeImplied($name);
                $this->stack->cut(min($i, $this->stack->count()));

                return;
            }
            if (Kinds::isSpecial($one)) {
                return;
            }
        }
    }

    private function afterBody(Token $token): void
    {
        if (TokenKind::Text === $token->kind && \strlen($token->text) === strspn($token->text, self::SPACE)) {
            $this->textInBody($token->text);
        } elseif (!(TokenKind::Doctype === $token->kind || (TokenKind::End === $token->kind && 'html' === $token->name))) {
            $this->again(Mode::InBody, $token);
        }
    }

    private function inFrameset(Token $token): void
    {
        if (TokenKind::Start === $token->kind) {
            match ($token->name) {
                'frameset' => $this->planter->open($token),
                'frame' => $this->planter->put($token),
                'noframes' => $this->raw($token),
                default => null,
            };
        } elseif (TokenKind::End === $token->kind && 'frameset' === $token->name && $this->stack->count() > 1) {
            $this->stack->pop();
            $this->mode = $this->stack->top()->isHtml('frameset') ? Mode::InFrameset : Mode::AfterFrameset;
        }
    }

    private function afterFrameset(Token $token): void
    {
        if (TokenKind::Start === $token->kind && 'noframes' === $token->name) {
            $this->raw($token);
        }
    }

    private function inTable(Token $token): void
    {
        $name = $token->name;
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        if (TokenKind::Text === $token->kind) {
            $inTable = isset(['table' => 1, 'tbody' => 1, 'tfoot' => 1, 'thead' => 1, 'tr' => 1, 'template' => 1][$this->stack->top()->name]);
            if ($inTable && \strlen($token->text) === strspn($token->text, self::SPACE)) {
                $this->planter->text($token->text);
            } else {
                $this->fostered($token);
            }

            return;
        }
        if (TokenKind::End === $token->kind) {
            if ('table' === $name) {
                $this->endTable();
            } elseif ('template' === $name) {
                $this->endTemplate();
            } elseif (!isset(Kinds::IN_TABLE[$name]) && 'body' !== $name && 'html' !== $name) {
                $this->fostered($token);
            }

            return;
        }
        match (true) {
            'caption' === $name => $this->startCaption($token),
            'colgroup' === $name => $this->startInTable($token, Mode::InColumnGroup),
            'col' === $name => $this->impliedInTable('colgroup', Mode::InColumnGroup, $token),
            'tbody' === $name, 'tfoot' === $name, 'thead' === $name => $this->startInTable($token, Mode::InTableBody),
            'td' === $name, 'th' === $name, 'tr' === $name => $this->impliedInTable('tbody', Mode::InTableBody, $token),
            'table' === $name => $this->tableInTable($token),
            'style' === $name, 'script' === $name, 'template' === $name => $this->headElement($token),
            'input' === $name && 'hidden' === strtolower($token->attributes['type'] ?? '') => $this->planter->put($token),
            'form' === $name => $this->formInTable($token),
            default => $this->fostered($token),
        };
    }

    private function fostered(Token $token): void
    {
        $this->planter->fostering = true;
        $this->inBody($token);
        $this->planter->fostering = false;
    }

    private function endTable(): bool
    {
        if (!$this->stack->has('table', Kinds::TABLE_SCOPE)) {
            return false;
        }
        $this->stack->popUntil(['table' => 1]);
        $this->resetMode();

        return true;
    }

    private function tableInTable(Token $token): void
    {
        if ($this->endTable()) {
            $this->process($token);
        }
    }

    private function formInTable(Token $token): void
    {
        if (null === $this->form && null === $this->stack->lastPlace('template')) {
            $this->form = $this->planter->put($token);
        }
    }

    private function startCaption(Token $token): void
    {
        $this->stack->backTo(Kinds::TABLE_SCOPE);
        $this->planter->mark();
        $this->planter->open($token);
        $this->mode = Mode::InCaption;
    }

    private function startInTable(Token $token, Mode $mode): void
    {
        $this->stack->backTo(Kinds::TABLE_SCOPE);
        $this->planter->open($token);
        $this->mode = $mode;
    }

    private function impliedInTable(string $name, Mode $mode, Token $token): void
    {
        $this->startInTable(new Token(TokenKind::Start, $name), $mode);
        $this->process($token);
    }

    private function inCaption(Token $token): void
    {
        $isTable = isset(Kinds::IN_TABLE[$token->name]);
        if (TokenKind::End === $token->kind && 'caption' === $token->name) {
            $this->endCaption();
        } elseif ((TokenKind::Start === $token->kind && $isTable) || (TokenKind::End === $token->kind && 'table' === $token->name)) {
            if ($this->endCaption()) {
                $this->process($token);
            }
        } elseif (TokenKind::End !== $token->kind || (!$isTable && 'body' !== $token->name && 'html' !== $token->name)) {
            $this->inBody($token);
        }
    }

    private function endCaption(): bool
    {
        if (!$this->stack->has('caption', Kinds::TABLE_SCOPE)) {
            return false;
        }
        $this->stack->closeImplied();
        $this->stack->popUntil(['caption' => 1]);
        $this->planter->clearToMarker();
        $this->mode = Mode::InTable;

        return true;
    }

    private function inColumnGroup(Token $token): void
    {
        $token = $this->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'col' === $token->name) {
            $this->planter->put($token);
        } elseif ('template' === $token->name) {
            $this->inHead($token);
        } elseif (TokenKind::Doctype !== $token->kind && !(TokenKind::End === $token->kind && 'col' === $token->name) && $this->stack->top()->isHtml('colgroup')) {
            $this->stack->pop();
            $this->mode = Mode::InTable;
            if (TokenKind::End !== $token->kind || 'colgroup' !== $token->name) {
                $this->process($token);
            }
        }
    }

    private function inTableBody(Token $token): void
    {
        $name = $token->name;
        $bodies = ['tbody' => 1, 'tfoot' => 1, 'thead' => 1];
        if (TokenKind::Start === $token->kind && ('tr' === $name || 'td' === $name || 'th' === $name)) {
            $this->stack->backTo($bodies + ['html' => 1, 'template' => 1]);
            $this->planter->open('tr' === $name ? $token : new Token(TokenKind::Start, 'tr'));
            $this->mode = Mode::InRow;
            if ('tr' !== $name) {
                $this->process($token);
            }
        } elseif (TokenKind::End === $token->kind && isset($bodies[$name])) {
            if ($this->stack->has($name, Kinds::TABLE_SCOPE)) {
                $this->stack->backTo($bodies + ['html' => 1, 'template' => 1]);
                $this->stack->pop();
                $this->mode = Mode::InTable;
            }
        } elseif ((TokenKind::Start === $token->kind && isset(Kinds::IN_TABLE[$name])) || (TokenKind::End === $token->kind && 'table' === $name)) {
            if ($this->stack->hasAny($bodies, Kinds::TABLE_SCOPE)) {
                $this->stack->backTo($bodies + ['html' => 1, 'template' => 1]);
                $this->stack->pop();
                $this->again(Mode::InTable, $token);
            }
        } elseif (TokenKind::End !== $token->kind || !isset((Kinds::IN_TABLE + ['body' => 1, 'html' => 1])[$name])) {
            $this->inTable($token);
        }
    }

    private function inRow(Token $token): void
    {
        $name = $token->name;
        if (TokenKind::Start === $token->kind && ('td' === $name || 'th' === $name)) {
            $this->stack->backTo(['tr' => 1, 'html' => 1, 'template' => 1]);
            $this->planter->open($token);
            $this->mode = Mode::InCell;
            $this->planter->mark();
        } elseif (TokenKind::End === $token->kind && 'tr' === $name) {
            $this->endRow();
        } elseif ((TokenKind::Start === $token->kind && isset(Kinds::IN_TABLE[$name])) || (TokenKind::End === $token->kind && 'table' === $name)) {
            if ($this->endRow()) {
                $this->process($token);
            }
        } elseif (TokenKind::End === $token->kind && isset(['tbody' => 1, 'tfoot' => 1, 'thead' => 1][$name])) {
            if ($this->stack->has($name, Kinds::TABLE_SCOPE) && $this->endRow()) {
                $this->process($token);
            }
        } elseif (TokenKind::End !== $token->kind || !isset((Kinds::IN_TABLE + ['body' => 1, 'html' => 1])[$name])) {
            $this->inTable($token);
        }
    }

    private function endRow(): bool
    {
        if (!$this->stack->has('tr', Kinds::TABLE_SCOPE)) {
            return false;
        }
        $this->stack->backTo(['tr' => 1, 'html' => 1, 'template' => 1]);
        $this->stack->pop();
        $this->mode = Mode::InTableBody;

        return true;
    }

    private function inCell(Token $token): void
    {
        $name = $token->name;
        if (TokenKind::End === $token->kind && ('td' === $name || 'th' === $name)) {
            if ($this->stack->has($name, Kinds::TABLE_SCOPE)) {
                $this->endCell();
            }
        } elseif (TokenKind::Start === $token->kind && isset(Kinds::IN_TABLE[$name])) {
            if ($this->stack->hasAny(['td' => 1, 'th' => 1], Kinds::TABLE_SCOPE)) {
                $this->endCell();
                $this->process($token);
            }
        } elseif (TokenKind::End === $token->kind && isset(['table' => 1, 'tbody' => 1, 'tfoot' => 1, 'thead' => 1, 'tr' => 1][$name])) {
            if ($this->stack->has($name, Kinds::TABLE_SCOPE)) {
                $this->endCell();
                $this->process($token);
            }
        } elseif (TokenKind::End !== $token->kind || !isset(['body' => 1, 'caption' => 1, 'col' => 1, 'colgroup' => 1, 'html' => 1][$name])) {
            $this->inBody($token);
        }
    }

    private function endCell(): void
    {
        $this->stack->closeImplied();
        $this->stack->popUntil(['td' => 1, 'th' => 1]);
        $this->planter->clearToMarker();
        $this->mode = Mode::InRow;
    }

    private function inTemplate(Token $token): void
    {
        if (TokenKind::Start !== $token->kind || isset(Kinds::IN_HEAD[$token->name])) {
            match ($token->kind) {
                TokenKind::Start => $this->headElement($token),
                TokenKind::Text => $this->inBody($token),
                TokenKind::End => 'template' === $token->name ? $this->endTemplate() : null,
                TokenKind::Doctype => null,
            };

            return;
        }
        $mode = match ($token->name) {
            'caption', 'colgroup', 'tbody', 'tfoot', 'thead' => Mode::InTable,
            'col' => Mode::InColumnGroup,
            'tr' => Mode::InTableBody,
            'td', 'th' => Mode::InRow,
            default => Mode::InBody,
        };
        array_pop($this->templates);
        $this->templates[] = $mode;
        $this->again($mode, $token);
    }

    /** Section 13.2.4.1, "reset the insertion mode appropriately". */
    private function resetMode(): void
    {
        for ($i = $this->stack->count() - 1; $i >= 0; --$i) {
            $one = $this->stack->at($i);
            $mode = Vocabulary::Html !== $one->vocabulary ? null : match ($one->name) {
                'td', 'th' => $i > 0 ? Mode::InCell : null,
                'tr' => Mode::InRow,
                'tbody', 'thead', 'tfoot' => Mode::InTableBody,
                'caption' => Mode::InCaption,
                'colgroup' => Mode::InColumnGroup,
                'table' => Mode::InTable,
                'template' => [] === $this->templates ? Mode::InBody : $this->templates[\count($this->templates) - 1],
                'head' => Mode::InHead,
                'body' => Mode::InBody,
                'frameset' => Mode::InFrameset,
                'html' => null === $this->head ? Mode::BeforeHead : Mode::AfterHead,
                default => null,
            };
            if (null !== $mode) {
                $this->mode = $mode;

                return;
            }
        }
        $this->mode = Mode::InBody;
    }

    /** Whether the token is read by the rules for foreign vocabularies (section 13.2.6, "tree construction dispatcher"). */
    private function isForeign(Token $token): bool
    {
        $top = $this->stack->top();
        $isText = TokenKind::Text === $token->kind;
        $isStart = TokenKind::Start === $token->kind;
        if (Vocabulary::Math === $top->vocabulary && isset(['mi' => 1, 'mo' => 1, 'mn' => 1, 'ms' => 1, 'mtext' => 1][$top->name])) {
            return !($isText || ($isStart && 'mglyph' !== $token->name && 'malignmark' !== $token->name));
        }
        $integrates = Vocabulary::Svg === $top->vocabulary ? isset(['foreignobject' => 1, 'desc' => 1, 'title' => 1][$top->name])
            : 'annotation-xml' === $top->name && (('svg' === $token->name && $isStart) || isset(['text/html' => 1, 'application/xhtml+xml' => 1][strtolower($top->attributes['encoding'] ?? '')]));

        return !($integrates && ($isText || $isStart));
    }

    private function inForeign(Token $token): void
    {
        if (TokenKind::Text === $token->kind) {
            $this->planter->text($token->text);
        } elseif (TokenKind::Start === $token->kind) {
            $leaves = isset(Kinds::OUT_OF_FOREIGN[$token->name]) || ('font' === $token->name && [] !== array_intersect_key($token->attributes, ['color' => 1, 'face' => 1, 'size' => 1]));
            if ($leaves) {
                $this->leaveForeign();
                $this->process($token);
            } else {
                $vocabulary = $this->stack->top()->vocabulary;
                $token->closesItself ? $this->planter->put($token, $vocabulary) : $this->planter->open($token, $vocabulary);
            }
        } elseif (TokenKind::End === $token->kind) {
            $this->endForeign($token);
        }
    }

    private function leaveForeign(): void
    {
        while (Vocabulary::Html !== $this->stack->top()->vocabulary) {
            $top = $this->stack->top();
            if (Kinds::isForeignBound($top) && 'annotation-xml' !== $top->name) {
                return;
            }
            $this->stack->pop();
        }
    }

    private function endForeign(Token $token): void
    {
        if ('br' === $token->name || 'p' === $token->name) {
            $this->leaveForeign();
            $this->process($token);

            return;
        }
        for ($i = $this->stack->count() - 1; $i > 0; --$i) {
            $one = $this->stack->at($i);
            if (Vocabulary::Html === $one->vocabulary) {
                $this->process($token);

                return;
            }
            if ($one->name === $token->name) {
                $this->stack->cut($i);

                return;
            }
        }
    }
}
